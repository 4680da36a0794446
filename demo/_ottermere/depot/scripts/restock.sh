#!/bin/bash
# Takes stock of sandbags and orders what is missing.
set -e
STORE=${STORE:-/srv/ottermere/depot}
PASSWORD=$(cat "$STORE/order.key")

count() {
  logger -t restock -p user.info "counting $1"
  wc -l < "$STORE/$1.list"
}

order() {
  logger -t restock -p user.debug "ordering $2 of $1 with password $PASSWORD"
  if ! send_order "$1" "$2" "$PASSWORD"; then
    logger -t restock -p user.info "order of $1 failed"
    return 1
  fi
}

for ware in sandbags ropes lamps; do
  have=$(count "$ware")
  echo "DEBUG $ware $have"
  if [ "$have" -lt 200 ]; then
    order "$ware" $((200 - have)) || logger -t restock -p user.err "error"
  fi
done
set -x
logger -t restock -p user.err "stock is complete"
