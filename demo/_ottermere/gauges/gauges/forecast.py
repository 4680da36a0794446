"""Forecasts the height at the bridge from the gauges above it."""
import logging

log = logging.getLogger(__name__)


def forecast(readings, hours):
    log.debug("forecasting %d hours from %d readings", hours, len(readings))
    if len(readings) < 3:
        log.warning("only %d readings, the forecast for %d h is rough", len(readings), hours)
    slope = (readings[-1] - readings[0]) / max(len(readings) - 1, 1)
    breakpoint()
    return [readings[-1] + slope * h for h in range(hours)]


def publish(heights, board):
    try:
        board.post(heights)
    except ConnectionError as e:
        log.info("Failed to publish the forecast to %s: %s", board, e)
        board.queue(heights)
    log.info("published " + str(len(heights)) + " hours")
    log.info("highest {} m".format(max(heights)))
