package nodley.service;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.concurrent.atomic.AtomicReference;

/** A clock that stands still until a test moves it on. Safe for many threads. */
public final class MovableClock extends Clock {

  private final AtomicReference<Instant> now;

  public MovableClock(Instant now) {
    this.now = new AtomicReference<>(now);
  }

  public void advance(Duration time) {
    now.updateAndGet(it -> it.plus(time));
  }

  @Override
  public Instant instant() {
    return now.get();
  }

  @Override
  public ZoneId getZone() {
    return ZoneOffset.UTC;
  }

  @Override
  public Clock withZone(ZoneId zone) {
    return this;
  }
}
