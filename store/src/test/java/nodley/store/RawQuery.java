package nodley.store;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.Sql;

/** What a query of the data folder gives, as anybody with SQLite would see it: a line for a row. */
public final class RawQuery {

  private RawQuery() {}

  public static List<String> lines(Path folder, String query) throws SQLException {
    try (Connection connection =
        DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(DataFolder.FILE))) {
      return Sql.list(
          connection,
          row -> {
            List<String> cells = new ArrayList<>();
            for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
              cells.add(row.getString(i));
            }
            return String.join("|", cells);
          },
          query);
    }
  }
}
