package nodley.store.schema;

/** The step from data version 13 to 14: drafts, which are unfinished submissions. */
final class From13 {

  /**
   * Unfinished submissions, as they were typed; and which draft an upload is kept for. The address
   * is that of a stranger, whose drafts are limited by it.
   */
  static final String DRAFTS =
      """
      CREATE TABLE nodley_drafts (
        id TEXT NOT NULL PRIMARY KEY,
        form TEXT NOT NULL,
        record_id TEXT NOT NULL,
        record_version INTEGER NOT NULL,
        owner TEXT NOT NULL,
        address TEXT NOT NULL,
        version INTEGER NOT NULL,
        entered TEXT NOT NULL,
        step TEXT NOT NULL,
        updated_at INTEGER NOT NULL,
        ends_at INTEGER NOT NULL
      );
      CREATE INDEX nodley_drafts_owner ON nodley_drafts (owner);
      CREATE INDEX nodley_drafts_address ON nodley_drafts (address);
      CREATE INDEX nodley_drafts_end ON nodley_drafts (ends_at);
      ALTER TABLE nodley_uploads ADD COLUMN draft TEXT NOT NULL DEFAULT '';
      CREATE INDEX nodley_uploads_draft ON nodley_uploads (draft) WHERE draft <> '';
      """;

  private From13() {}
}
