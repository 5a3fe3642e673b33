package nodley.store.publish;

import java.util.Optional;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * Remembers a digest of the text of each file in the forms folder that was read last, across
 * restarts, so that only changed files are published.
 */
public final class FormFolder {

  private final Database database;
  private final BatchWriter writer;

  /** Opens what a store knows of its forms folder. */
  public FormFolder(Database database, BatchWriter writer) {
    this.database = database;
    this.writer = writer;
  }

  /** The digest of the text that was last read from the file. */
  public Optional<String> lastRead(String file) {
    return database.read(
        on ->
            Sql.first(
                on,
                row -> row.getString(1),
                "SELECT digest FROM nodley_folder WHERE file = ?",
                file));
  }

  /** Stores the digest of a file that was read; blocks until the commit. */
  public void remember(String file, String digest) {
    writer.write(
        on ->
            Sql.run(
                on,
                "INSERT INTO nodley_folder (file, digest) VALUES (?, ?)"
                    + " ON CONFLICT (file) DO UPDATE SET digest = excluded.digest",
                file,
                digest));
  }
}
