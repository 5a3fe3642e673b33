package nodley.service.delivery;

import java.time.Duration;
import java.util.Optional;
import nodley.store.delivery.Delivery;

/** A place outside that is told of accepted submissions. Thread-safe; telling it blocks. */
public interface Outlet {

  /** What came of telling it. */
  sealed interface Told {
    /** What it said, in a short sentence for operators; nothing of what it was told. */
    String answer();
  }

  /** It has the delivery. */
  record Taken(String answer) implements Told {}

  /**
   * It could not take it now.
   *
   * @param asked how long it asked to be left alone; empty if it did not
   */
  record Later(String answer, Optional<Duration> asked) implements Told {}

  /** It will never take this one. */
  record Refused(String answer) implements Told {}

  /** It wants nothing more. */
  record Over(String answer) implements Told {}

  /** Where it is, for operators: no secrets. */
  String where();

  /**
   * Tells it.
   *
   * @param body of the delivery, as JSON
   */
  Told tell(Delivery delivery, String body);
}
