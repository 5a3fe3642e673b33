package nodley.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.store.Store;
import nodley.store.attempt.Attempts;
import nodley.store.folder.DataFolder;

/**
 * A log of a million refused attempts of two forms: how long the page of 50 takes that is found by
 * what nearly all have, and by what ten of them have, those being the oldest.
 */
public final class AttemptLog {

  private static final int TIMES = 21;

  private static final String FILL =
      """
      INSERT INTO nodley_attempts
      WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000000)
      SELECT i, 'id-' || i, iif(i % 2, 'vessel', 'visit'), 1, 'add', 1764320000000 + i, 50, 0, '',
        'refused', 'refused', json_array(json_object('pointer', iif(i < 11, '#/rare', '#/name'),
        'code', iif(i < 11, 'odd', 'value-missing'), 'detail', 'It is missing.')), '{}' FROM n;
      INSERT INTO nodley_attempt_index SELECT 'code refused', form, number FROM nodley_attempts;
      INSERT INTO nodley_attempt_index
        SELECT 'code ' || iif(number < 11, 'odd', 'value-missing'), form, number FROM nodley_attempts;
      INSERT INTO nodley_attempt_index
        SELECT 'field ' || iif(number < 11, 'rare', 'name'), form, number FROM nodley_attempts;
      """;

  private AttemptLog() {}

  public static void main(String[] args) throws Exception {
    Path folder = Files.createTempDirectory(Path.of("target"), "attempts");
    try {
      Store.open(folder).close();
      try (Connection on =
              DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(DataFolder.FILE));
          Statement statement = on.createStatement()) {
        statement.executeUpdate("PRAGMA synchronous = OFF");
        for (String sql : FILL.split(";\n")) {
          statement.executeUpdate(sql);
        }
      }
      try (Store store = Store.open(folder)) {
        System.out.printf("%-34s %10s%n", "of 1 000 000 attempts", "median, ms");
        tell(store, "code few have", Optional.empty(), Optional.of("odd"), Optional.empty());
        tell(store, "field few have", Optional.empty(), Optional.empty(), Optional.of("rare"));
        tell(
            store,
            "form, code few have",
            Optional.of("visit"),
            Optional.of("odd"),
            Optional.empty());
        tell(
            store,
            "code all have, field few have",
            Optional.empty(),
            Optional.of("refused"),
            Optional.of("rare"));
        tell(store, "code all have", Optional.empty(), Optional.of("refused"), Optional.empty());
      }
    } finally {
      try (Stream<Path> files = Files.walk(folder)) {
        for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(file);
        }
      }
    }
  }

  private static void tell(
      Store store,
      String what,
      Optional<String> form,
      Optional<String> code,
      Optional<String> field) {
    var wanted =
        new Attempts.Wanted(
            form,
            Optional.empty(),
            code,
            field,
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Long.MAX_VALUE,
            50);
    double[] took = new double[TIMES];
    for (int i = 0; i < TIMES; i++) {
      long start = System.nanoTime();
      if (store.attempts().list(wanted).isEmpty()) {
        throw new IllegalStateException("nothing was found");
      }
      took[i] = (System.nanoTime() - start) / 1e6;
    }
    Arrays.sort(took);
    System.out.printf("%-34s %10.2f%n", what, took[TIMES / 2]);
  }
}
