package nodley.service.retention;

import java.util.concurrent.TimeUnit;
import nodley.store.Store;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import nodley.store.draft.Drafts;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Removes drafts whose time is over, with their uploads and holds. */
@Component
class DraftSweep {

  private static final int SECONDS = 10;

  private static final Logger LOG = LoggerFactory.getLogger(DraftSweep.class);

  private final Drafts drafts;
  private final OnceAMinute failures = new OnceAMinute();

  DraftSweep(Store store) {
    this.drafts = store.drafts();
  }

  @Scheduled(fixedDelay = SECONDS, timeUnit = TimeUnit.SECONDS)
  void sweep() {
    try {
      drafts.sweep();
    } catch (StoreException e) {
      if (failures.isDue()) {
        LOG.warn("Drafts whose time is over cannot be removed now: {}", e.getMessage());
      }
    }
  }
}
