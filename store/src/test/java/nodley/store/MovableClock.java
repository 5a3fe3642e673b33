package nodley.store;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;

/** A clock that stands still until a test moves it. For one thread. */
public final class MovableClock extends Clock {

  private Instant now;

  /** Stands at a moment. */
  public MovableClock(Instant now) {
    this.now = now;
  }

  /** Moves it on, or back by a negative time. */
  public void advance(Duration time) {
    now = now.plus(time);
  }

  /** Sets it. */
  public void set(Instant moment) {
    now = moment;
  }

  @Override
  public Instant instant() {
    return now;
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
