#!/bin/sh
# Switches the lights of the depot. The logging here is as it should be.

log() {
  logger -t depot-lights -p "user.$1" "$2"
}

switch_all() {
  for lamp in gate yard quay; do
    if switch_lamp "$lamp" "$1"; then
      log info "lamp $lamp is $1"
    else
      log err "lamp $lamp did not go $1"
    fi
  done
}

case ${1:-on} in
  on | off) switch_all "${1:-on}" ;;
  *) log warning "nothing to do for $1" ;;
esac
