package nodley.store.delivery;

import java.time.Instant;
import java.util.Optional;

/**
 * What an outlet is to be told, as it is handed over in the transaction of the record.
 *
 * @param outlet its name
 * @param record the id of the record; for a form that keeps none, of the submission
 * @param version the version that the change made
 * @param change {@code record.added}, {@code record.edited}, {@code record.removed} or {@code
 *     submission.accepted}
 * @param attempt the id of the attempt that caused it; empty if none did
 * @param body what is told, as JSON
 * @param isBrief true if nothing of it is kept once the outlet has it
 * @param confirmBy until when the link in it is good that confirms an address; empty if it has none
 */
public record Outgoing(
    String outlet,
    String form,
    String record,
    long version,
    String change,
    String attempt,
    String body,
    boolean isBrief,
    Optional<Instant> confirmBy) {

  /** Returns the same with another body. */
  Outgoing withBody(String other) {
    return new Outgoing(outlet, form, record, version, change, attempt, other, isBrief, confirmBy);
  }
}
