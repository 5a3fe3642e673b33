/**
 * Drafts: submissions that are not finished yet. They are kept as they were typed, belong to
 * whoever began them, and go with the record that comes of them, or when their time is over.
 */
package nodley.store.draft;
