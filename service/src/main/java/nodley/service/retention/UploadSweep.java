package nodley.service.retention;

import java.io.IOException;
import java.util.concurrent.TimeUnit;
import nodley.store.Store;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import nodley.store.upload.Uploads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Removes uploads that nothing takes over in time, and contents that nothing needs any more. */
@Component
class UploadSweep {

  private static final int SECONDS = 10;
  private static final int SOON = 5;
  private static final int HOUR = 3_600;

  private static final Logger LOG = LoggerFactory.getLogger(UploadSweep.class);

  private final Uploads uploads;
  private final OnceAMinute failures = new OnceAMinute();

  UploadSweep(Store store) {
    this.uploads = store.uploads();
  }

  @Scheduled(fixedDelay = SECONDS, timeUnit = TimeUnit.SECONDS)
  void sweep() {
    orSay(uploads::sweep);
  }

  /** Begins soon after the start: a process that was killed may have left something. */
  @Scheduled(initialDelay = SOON, fixedDelay = HOUR, timeUnit = TimeUnit.SECONDS)
  void sweepStrays() {
    orSay(uploads::sweepStrays);
  }

  private interface Sweep {
    void run() throws IOException;
  }

  private void orSay(Sweep sweep) {
    try {
      sweep.run();
    } catch (IOException | StoreException e) {
      if (failures.isDue()) {
        LOG.warn("Files that nothing needs cannot be removed now: {}", e.getMessage());
      }
    }
  }
}
