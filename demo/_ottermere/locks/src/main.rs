//! Opens and closes the locks between the villages.
mod level;

use log::{debug, error, info, warn};

struct Keeper {
    flight: Vec<Gate>,
    key_code: String,
}

impl Keeper {
    fn pass(&mut self, boat: &Boat) -> Result<(), GateError> {
        info!("boat wants through: {}", boat.name);
        for gate in self.flight.iter_mut() {
            match gate.open() {
                Ok(()) => debug!("gate {} is open", gate.id),
                Err(e) => {
                    info!("gate {} failed to open: {}", gate.id, e);
                    return Err(e);
                }
            }
        }
        println!("boat {} is through", boat.name);
        Ok(())
    }

    fn unlock(&self, password: &str) -> bool {
        debug!("unlocking with {}", password);
        let good = password == self.key_code;
        if !good {
            warn!("error");
        }
        good
    }

    fn drain(&mut self) {
        for gate in self.flight.iter_mut() {
            if let Err(_e) = gate.drain() {
                error!("gate {} was not drained", gate.id);
            }
        }
        dbg!(self.flight.len());
    }

    fn grease(&mut self) {
        for gate in self.flight.iter_mut() {
            if let Err(_) = gate.grease() {}
        }
        error!("greased the whole flight of locks");
    }
}

fn main() {
    env_logger::init();
    let mut keeper = Keeper::from_env();
    keeper.grease();
    info!("WARNING: {} gates are in use", keeper.flight.len());
}
