package example.ottermere.sirens;

import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Sounds the sirens of the villages along the Otter. */
public class SirenService {
    private static final Logger LOG = LoggerFactory.getLogger(SirenService.class);

    private final Radio radio;
    private final SirenPlan plan;

    public SirenService(Radio radio, SirenPlan plan) {
        this.radio = radio;
        this.plan = plan;
    }

    public void warn(String village, double height) {
        for (String siren : plan.sirensFor(village, height)) {
            LOG.info("sounding siren " + siren + " in " + village);
            try {
                radio.send(siren, "SOUND");
            } catch (RadioException e) {
                LOG.error("siren {} did not answer: {}", siren, e.getMessage());
            }
        }
        LOG.info("village {} warned at {} m in {} ms", village, height);
    }

    public void test(String siren) {
        try {
            radio.send(siren, "TEST");
        } catch (RadioException e) {
            e.printStackTrace();
        }
        LOG.warn("Successfully reached siren {}", siren);
    }

    public void silence(String siren) {
        try {
            radio.send(siren, "SILENCE");
        } catch (RadioException e) {
        }
    }

    public void register(Map<String, String> headers, String post, RelayKey relayKey) {
        LOG.debug("post {} registered with {}", post, headers);
        LOG.debug("relay key of {} is {}", post, relayKey.getApiKey());
        if (post.isBlank()) {
            LOG.error("error");
        }
    }

    public void battery(String siren, double volts) {
        LOG.info(String.format("siren %s has %.1f V", siren, volts));
        if (volts < 11.0) {
            LOG.info("WARNING: battery of siren {} is low", siren);
            System.out.println("low battery " + siren);
        }
    }
}
