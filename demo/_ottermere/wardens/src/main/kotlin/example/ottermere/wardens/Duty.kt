package example.ottermere.wardens

import org.slf4j.LoggerFactory

/** Plans who is on duty. The logging here is as it should be. */
class Duty(private val wardens: WardenBook) {
    private val log = LoggerFactory.getLogger(Duty::class.java)

    fun plan(week: Int): List<Shift> {
        log.debug("planning week {}", week)
        val shifts = wardens.available(week).map { Shift(it, week) }
        if (shifts.size < MINIMUM) {
            log.warn("week {} has {} wardens, {} are needed", week, shifts.size, MINIMUM)
        }
        return shifts
    }

    fun swap(from: Shift, to: Shift): Boolean =
        try {
            wardens.swap(from, to)
            log.info("swapped shift {} with {}", from.id, to.id)
            true
        } catch (e: ShiftTakenException) {
            log.error("shift {} was not swapped with {}", from.id, to.id, e)
            false
        }

    companion object {
        const val MINIMUM = 4
    }
}
