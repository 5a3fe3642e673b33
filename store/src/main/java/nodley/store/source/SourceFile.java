package nodley.store.source;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Collections;
import java.util.List;

/** Makes small databases to look things up in, for demonstrations. Stateless. */
public final class SourceFile {

  private SourceFile() {}

  /**
   * Makes an SQLite file with one table of texts.
   *
   * @param file that is not there yet
   * @param columns the first is its key
   * @param rows a text for each column
   */
  public static void make(Path file, String table, List<String> columns, List<List<String>> rows)
      throws SourceException {
    String names = String.join(", ", columns.stream().map(Dialect.SQLITE::quoted).toList());
    String name = Dialect.SQLITE.quoted(table);
    try (Connection made = DriverManager.getConnection("jdbc:sqlite:" + file)) {
      made.setAutoCommit(false);
      try (Statement create = made.createStatement()) {
        create.execute(
            "CREATE TABLE "
                + name
                + " ("
                + names
                + ", PRIMARY KEY ("
                + Dialect.SQLITE.quoted(columns.getFirst())
                + "))");
      }
      String places = String.join(", ", Collections.nCopies(columns.size(), "?"));
      try (PreparedStatement insert =
          made.prepareStatement("INSERT INTO " + name + " VALUES (" + places + ")")) {
        for (List<String> row : rows) {
          for (int i = 0; i < columns.size(); i++) {
            insert.setString(i + 1, row.get(i));
          }
          insert.executeUpdate();
        }
      }
      made.commit();
    } catch (SQLException e) {
      throw new SourceException("the file cannot be made", e);
    }
  }
}
