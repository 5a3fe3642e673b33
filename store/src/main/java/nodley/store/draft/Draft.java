package nodley.store.draft;

import java.time.Instant;
import nodley.core.value.Raw;

/**
 * A submission that is not finished yet. Immutable: what is known of it at one moment.
 *
 * @param id unguessable; names the draft in its address
 * @param record the id of the record that is edited; empty if one is to be added
 * @param recordVersion the version of that record from which the edit began; else 0
 * @param owner whose it is, as the service names callers; empty for whoever knows the id
 * @param version counts its changes, from 1
 * @param values as they were typed; without secrets
 * @param step the step that is open; empty if the form has none, or it is at its beginning
 * @param endsAt when it is swept if nobody changes it
 */
public record Draft(
    String id,
    String form,
    String record,
    long recordVersion,
    String owner,
    long version,
    Raw.Members values,
    String step,
    Instant updatedAt,
    Instant endsAt) {

  /**
   * What a new one begins with.
   *
   * @param address where a stranger sends it from, whose drafts are limited by address; else empty
   */
  public record Begun(
      String form,
      String record,
      long recordVersion,
      String owner,
      String address,
      Raw.Members values,
      String step,
      Instant endsAt) {}

  /** The same with other values. */
  public Draft with(Raw.Members other) {
    return new Draft(
        id, form, record, recordVersion, owner, version, other, step, updatedAt, endsAt);
  }

  /** True if it edits a record. */
  public boolean isEdit() {
    return !record.isEmpty();
  }
}
