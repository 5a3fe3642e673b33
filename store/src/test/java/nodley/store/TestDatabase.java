package nodley.store;

import java.nio.file.Path;
import java.sql.SQLException;
import nodley.store.common.StoreLimits;
import nodley.store.schema.Schema;
import nodley.store.sqlite.Database;

/** Opens database files with Nodley's own tables. */
public final class TestDatabase {

  private TestDatabase() {}

  public static Database open(Path file) throws SQLException {
    return new Database(file, StoreLimits.DEFAULT.turn(), Schema::bringUp);
  }
}
