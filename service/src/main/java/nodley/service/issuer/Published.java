package nodley.service.issuer;

import java.io.IOException;
import java.text.ParseException;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;
import tools.jackson.core.JacksonException;

/**
 * Something that an issuer publishes. It is fetched when it is first needed, and again after five
 * minutes, or where somebody asks for a newer one; but seldom, whatever strangers send, and by one
 * thread at a time, while others are told to come again. What is known stays good for an hour while
 * the issuer cannot be reached. Thread-safe.
 */
final class Published<T> {

  private static final Duration FRESH = Duration.ofMinutes(5);
  private static final Duration GOOD = Duration.ofHours(1);
  private static final Duration BETWEEN = Duration.ofSeconds(10);

  private final Source<T> source;
  private final InstantSource clock;
  private final ReentrantLock fetching = new ReentrantLock();

  private volatile Known<T> known = new Known<>(null, Instant.EPOCH);
  private volatile Instant asked = Instant.EPOCH;

  private record Known<T>(T value, Instant at) {}

  /** Where it comes from. */
  interface Source<T> {
    T fetch() throws IOException, ParseException;
  }

  Published(Source<T> source, InstantSource clock) {
    this.source = source;
    this.clock = clock;
  }

  /** Returns what is known, fetched anew if that is old; empty if it cannot be had now. */
  Optional<T> current() {
    Instant now = clock.instant();
    if (now.isAfter(known.at().plus(FRESH))) {
      fetch(now);
    }
    return good(now);
  }

  /** Returns it as it may have changed since; empty if it cannot be had now. */
  Optional<T> newer() {
    Instant now = clock.instant();
    fetch(now);
    return good(now);
  }

  private Optional<T> good(Instant now) {
    Known<T> there = known;
    return now.isAfter(there.at().plus(GOOD)) ? Optional.empty() : Optional.of(there.value());
  }

  private void fetch(Instant now) {
    if (now.isBefore(asked.plus(BETWEEN)) || !fetching.tryLock()) {
      return;
    }
    try {
      asked = now;
      known = new Known<>(source.fetch(), now);
    } catch (IOException | ParseException | JacksonException e) {
      // What is known is good for a while.
    } finally {
      fetching.unlock();
    }
  }
}
