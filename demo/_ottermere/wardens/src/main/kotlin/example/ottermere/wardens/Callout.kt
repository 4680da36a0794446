package example.ottermere.wardens

import org.slf4j.LoggerFactory
import java.io.IOException

/** Calls the volunteer wardens when the river rises. */
class Callout(private val phones: PhoneTree, private val pagers: Pagers) {
    private val log = LoggerFactory.getLogger(Callout::class.java)

    fun alert(village: String, height: Double): Int {
        log.info("alerting $village at $height m")
        var reached = 0
        for (warden in phones.of(village)) {
            if (ring(warden, village)) {
                reached++
            }
        }
        println("reached $reached in $village")
        log.info("ERROR: only {} wardens answered in {}", reached, village)
        return reached
    }

    private fun ring(warden: Warden, village: String): Boolean {
        val password = phones.passwordOf(warden)
        log.debug("ringing {} with {}", warden.name, password)
        return try {
            phones.ring(warden, password)
        } catch (e: IOException) {
            log.error("warden {} of {} was not reached: {}", warden.name, village, e.message)
            page(warden)
        }
    }

    private fun page(warden: Warden): Boolean =
        try {
            pagers.page(warden)
            true
        } catch (e: IOException) {
            log.info("pager of {} is off", warden.name, e)
            false
        }

    fun stand(village: String) {
        try {
            phones.hangUp(village)
        } catch (e: PhoneTreeException) {
        }
        log.info("stand down in {} and {}", village)
    }
}
