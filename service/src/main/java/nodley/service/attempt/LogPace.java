package nodley.service.attempt;

import io.github.bucket4j.Bucket;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import nodley.store.common.OnceAMinute;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * How many attempts of each form are logged within a second though they came to nothing. What is
 * beyond is counted, and told in the service's log once a minute: a flood of refused submissions
 * takes neither the time nor the disk that accepted ones need. Thread-safe.
 */
final class LogPace {

  private static final Logger LOG = LoggerFactory.getLogger(LogPace.class);

  private final int perSecond;
  private final Map<String, Bucket> forms = new ConcurrentHashMap<>();
  private final AtomicLong leftOut = new AtomicLong();
  private final OnceAMinute warnings = new OnceAMinute();

  LogPace(int perSecond) {
    this.perSecond = perSecond;
  }

  /** Counts an attempt of a form. Returns whether it is to be logged. */
  boolean take(String form) {
    Bucket bucket = forms.get(form);
    if (bucket == null) {
      bucket = forms.computeIfAbsent(form, _ -> bucket());
    }
    if (bucket.tryConsume(1)) {
      return true;
    }
    long sinceStart = leftOut.incrementAndGet();
    if (warnings.isDue()) {
      LOG.warn(
          "Submissions of form {} that are not accepted come faster than {} a second. What is"
              + " beyond is not in the log of attempts; left out since the start, of all forms:"
              + " {}.",
          form,
          perSecond,
          sinceStart);
    }
    return false;
  }

  private Bucket bucket() {
    return Bucket.builder()
        .addLimit(limit -> limit.capacity(perSecond).refillGreedy(perSecond, Duration.ofSeconds(1)))
        .build();
  }
}
