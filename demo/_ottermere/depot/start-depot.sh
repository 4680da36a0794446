#!/bin/sh
# Starts the pumps with the logging of the profile, production unless told otherwise.
exec ./depot --config "depot-${1:-production}.yaml"
