package nodley.store.common;

import java.util.UUID;
import nodley.core.value.Values;

/**
 * A stored record, without its secrets. Immutable.
 *
 * @param id UUIDv7 (RFC 9562, section 5.7)
 * @param revision of the form, under which it was last judged
 * @param version counts up from 1 with each edit
 * @param createdAt RFC 3339, UTC, to the millisecond
 * @param createdBy who added it; empty if nobody is known
 * @param updatedAt as {@code createdAt}
 * @param updatedBy who added or last edited it; empty if nobody is known
 * @param owner the id of the person who added it, or to whom it was handed over; empty if it was
 *     added by a program, or by somebody who is not known
 * @param confirmedAt when its address was confirmed, as {@code createdAt}; empty until then
 */
public record StoredRecord(
    String id,
    int revision,
    long version,
    String createdAt,
    String createdBy,
    String updatedAt,
    String updatedBy,
    String owner,
    String confirmedAt,
    Values values) {

  /** A record that is kept nowhere, for what is shown or answered like one that is. */
  public static StoredRecord madeUp(Values values) {
    String now = Times.now();
    return new StoredRecord(UUID.randomUUID().toString(), 1, 1, now, "", now, "", "", "", values);
  }

  /** The same record with other values. */
  public StoredRecord with(Values other) {
    return new StoredRecord(
        id,
        revision,
        version,
        createdAt,
        createdBy,
        updatedAt,
        updatedBy,
        owner,
        confirmedAt,
        other);
  }
}
