package nodley.store.common;

import nodley.core.value.Values;

/**
 * A stored record, without its secrets. Immutable.
 *
 * @param id UUIDv7 (RFC 9562, section 5.7)
 * @param revision of the form, under which it was last judged
 * @param version counts up from 1 with each edit
 * @param createdAt RFC 3339, UTC, to the millisecond
 * @param updatedAt as {@code createdAt}
 * @param updatedBy who added or last edited it; empty if nobody is known
 */
public record StoredRecord(
    String id,
    int revision,
    long version,
    String createdAt,
    String updatedAt,
    String updatedBy,
    Values values) {}
