#!/bin/sh
# Switches the lights of the depot. The logging here is as it should be.

log() {
  logger -t depot-lights -p "user.$1" "$2"
}

for lamp in gate yard quay; do
  if switch_lamp "$lamp" on; then
    logger -t depot-lights -p user.info "lamp $lamp is on"
  else
    logger -t depot-lights -p user.err "lamp $lamp did not come on"
  fi
done
