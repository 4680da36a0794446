#!/bin/sh
# Starts the poller with the logging of the profile, production unless told otherwise.
profile="${1:-production}"
exec python3 -m gauges.poller --logging "logging-$profile.yaml"
