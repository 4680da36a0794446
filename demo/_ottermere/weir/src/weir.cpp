#include <fmt/format.h>
#include <spdlog/spdlog.h>

#include <iostream>

#include "sluice.h"
#include "weir.h"

namespace ottermere {

void Weir::open(double flow) {
  spdlog::info("opening for " + std::to_string(flow));
  for (auto& sluice : sluices_) {
    try {
      sluice.lift(flow / sluices_.size());
    } catch (const std::runtime_error& e) {
      spdlog::info("sluice {} failed to lift: {}", sluice.id(), e.what());
    }
  }
  std::cout << "flow is " << flow << std::endl;
}

bool Weir::authorize(const std::string& warden, const std::string& password) {
  spdlog::debug("warden {} came with {}", warden, password);
  spdlog::info(fmt::format("warden {} is at the weir", warden));
  return book_.knows(warden, password);
}

void Weir::close() {
  try {
    book_.close();
  } catch (const BookError& e) {
    spdlog::error("book of the weir was not closed");
  }
  for (auto& sluice : sluices_) {
    try {
      sluice.drop();
    } catch (const std::runtime_error&) {
    }
  }
  spdlog::warn("failed");
  spdlog::info("closed {} sluices in {} s", sluices_.size());
}

void Weir::report() {
  spdlog::error("all sluices are down");
  printf("debug: %zu sluices\n", sluices_.size());
}

}  // namespace ottermere
