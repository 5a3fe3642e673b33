package nodley.store.schema;

/** The step from data version 12 to 13: files of records, and uploads that no record has yet. */
final class From12 {

  /**
   * Contents of files, uploads that no record has taken over, and the files of records: those that
   * a record has now, and those that only its earlier versions have. Who pays for an upload, its
   * owner or else its address, is whose waiting bytes are limited.
   */
  static final String FILES =
      """
      CREATE TABLE nodley_files (
        sha256 TEXT NOT NULL PRIMARY KEY,
        size INTEGER NOT NULL,
        made_at TEXT NOT NULL
      );
      CREATE TABLE nodley_uploads (
        id TEXT NOT NULL PRIMARY KEY,
        form TEXT NOT NULL,
        field TEXT NOT NULL,
        owner TEXT NOT NULL,
        payer TEXT NOT NULL,
        name TEXT NOT NULL,
        size INTEGER NOT NULL,
        ends_at INTEGER NOT NULL,
        sha256 TEXT REFERENCES nodley_files (sha256),
        type TEXT NOT NULL DEFAULT ''
      );
      CREATE INDEX nodley_uploads_file ON nodley_uploads (sha256);
      CREATE INDEX nodley_uploads_payer ON nodley_uploads (payer);
      CREATE INDEX nodley_uploads_owner ON nodley_uploads (owner);
      CREATE INDEX nodley_uploads_end ON nodley_uploads (ends_at);
      CREATE TABLE nodley_record_files (
        form TEXT NOT NULL,
        record_id TEXT NOT NULL,
        field TEXT NOT NULL,
        row_id INTEGER,
        file_number INTEGER NOT NULL,
        is_current INTEGER NOT NULL,
        name TEXT NOT NULL,
        type TEXT NOT NULL,
        size INTEGER NOT NULL,
        sha256 TEXT NOT NULL REFERENCES nodley_files (sha256)
      );
      CREATE INDEX nodley_record_files_record ON nodley_record_files (form, record_id);
      CREATE INDEX nodley_record_files_file ON nodley_record_files (sha256);
      """;

  private From12() {}
}
