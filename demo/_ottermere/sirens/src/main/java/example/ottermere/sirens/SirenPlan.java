package example.ottermere.sirens;

import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Decides which sirens sound at which height. The logging here is as it should be. */
public class SirenPlan {
    private static final Logger LOG = LoggerFactory.getLogger(SirenPlan.class);

    private final PlanSource source;

    public SirenPlan(PlanSource source) {
        this.source = source;
    }

    public List<String> sirensFor(String village, double height) {
        LOG.debug("looking up sirens of {} at {} m", village, height);
        List<String> found = source.find(village, height);
        if (found.isEmpty()) {
            LOG.warn("no siren is planned for {} at {} m", village, height);
        }
        return found;
    }

    public boolean reload(String file) {
        try {
            int rows = source.load(file);
            LOG.info("plan {} read with {} rows", file, rows);
            return true;
        } catch (PlanException e) {
            LOG.error("plan {} cannot be read, the old one stays in force", file, e);
            return false;
        }
    }

    public void store(String file) throws PlanException {
        try {
            source.save(file);
        } catch (RuntimeException e) {
            throw new PlanException("plan " + file + " was not saved", e);
        }
    }
}
