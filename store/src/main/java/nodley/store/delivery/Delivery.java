package nodley.store.delivery;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * One message to an outlet, and what became of it.
 *
 * @param number counts up with each, in the order in which they were accepted
 * @param id what the outlet knows it by, however often it is sent
 * @param tries how often it was sent
 * @param since when its tries began: with the first one, or when somebody had it sent again; before
 *     the first, when it was made
 * @param nextAt when it is sent next, while it waits
 * @param endedAt when it was delivered, or given up; empty while it waits
 * @param answer what the outlet said last; empty if it was never asked
 */
public record Delivery(
    long number,
    String id,
    String outlet,
    String form,
    String record,
    long version,
    String change,
    String attempt,
    State state,
    int tries,
    Instant madeAt,
    Instant since,
    Instant nextAt,
    Optional<Instant> endedAt,
    String answer) {

  /** What a delivery has come to. */
  public enum State {
    WAITING,
    DELIVERED,
    FAILED;

    /** Returns the word for it on the wire. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }
}
