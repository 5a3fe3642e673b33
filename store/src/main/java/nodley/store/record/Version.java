package nodley.store.record;

import nodley.core.value.Raw;

/**
 * A former or current state of a record.
 *
 * @param number 1 for the record as it was added
 * @param revision of the form, under which it was judged
 * @param at when it was saved: RFC 3339, UTC, to the millisecond
 * @param by who saved it; empty if nobody is known
 * @param kept its values as JSON, without secrets; those of fields that were retired since stay,
 *     and each row says which one it is
 * @param values the same as they were sent: no row says which one it is
 */
public record Version(
    long number, int revision, String at, String by, Raw.Members kept, Raw.Members values) {}
