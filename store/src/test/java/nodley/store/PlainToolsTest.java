package nodley.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import nodley.core.submission.RecordSink;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.common.StoredRecord;
import nodley.store.folder.DataFolder;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.record.Listing;
import nodley.store.sqlite.Sql;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The file can be looked into with what a machine has installed: all of it, while it is in use. */
class PlainToolsTest {

  private static final String BOAT =
      """
      form: boat
      fields:
        name: { type: text, unique: { ignore-case: true } }
        kind: { type: choice, options: [sail, motor] }
        berth: { type: record, form: berth }
        crew:
          type: rows
          fields:
            badge: { type: text, unique: true }
            certs: { type: rows, fields: { at: { type: date } } }
      """;

  @TempDir Path folder;
  private Store store;

  @BeforeEach
  void fill() {
    store = Store.open(folder);
    TestSubmissions.publish(
        store, "form: berth\nfields: { code: { type: text } }\n", FormPublisher.Manner.CAREFUL);
    TestSubmissions.publish(store, BOAT, FormPublisher.Manner.CAREFUL);
    PublishedForm boat = store.forms().find("boat").orElseThrow();
    Values crew =
        new Values(Map.of("badge", new Value.Text("7"), "certs", new Value.Rows(List.of())));
    Values values =
        new Values(Map.of("name", new Value.Text("Heron"), "crew", new Value.Rows(List.of(crew))));
    String id =
        ((RecordSink.Kept<StoredRecord>) TestSubmissions.add(store, boat, values)).record().id();
    TestSubmissions.edit(store, boat, id, 1, values, "ann");
  }

  @AfterEach
  void close() {
    store.close();
  }

  private static List<String> run(String... command) throws IOException, InterruptedException {
    Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
    String told = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor()).as("%s: %s", List.of(command), told).isZero();
    return told.lines().toList();
  }

  private List<String> sqlite3(String sql) throws IOException, InterruptedException {
    return run("sqlite3", "-bail", "-readonly", folder.resolve(DataFolder.FILE).toString(), sql);
  }

  @Test
  void theProgramSqlite3ReadsEveryTable() throws Exception {
    List<String> tables = sqlite3("SELECT name FROM sqlite_schema WHERE type = 'table'");
    assertThat(tables).contains("boat", "boat.crew", "boat.crew.certs", "boat_words", "berth");
    for (String table : tables) {
      assertThat(sqlite3("SELECT count(*) FROM (SELECT * FROM " + Sql.quoted(table) + ")"))
          .as(table)
          .singleElement()
          .satisfies(count -> assertThat(count).matches("[0-9]+"));
    }
    assertThat(sqlite3("SELECT name FROM boat")).containsExactly("Heron");
    // Words are put in a moment after the commit, or before the service itself looks for some.
    PublishedForm boat = store.forms().find("boat").orElseThrow();
    store.records().list(boat.form(), Listing.newest("heron", 1));
    assertThat(sqlite3("SELECT count(*) FROM boat_words WHERE boat_words MATCH 'heron'"))
        .containsExactly("1");
    assertThat(sqlite3("PRAGMA integrity_check")).containsExactly("ok");
    assertThat(sqlite3("PRAGMA foreign_key_check")).isEmpty();
  }

  @Test
  void theModuleOfPythonReadsEveryTable() throws Exception {
    Path program =
        Files.writeString(
            folder.resolve("walk.py"),
            """
            import sqlite3, sys
            on = sqlite3.connect("file:" + sys.argv[1] + "?mode=ro", uri=True)
            names = [name for (name,) in on.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
            for name in names:
                on.execute('SELECT * FROM "' + name + '"').fetchall()
            print(len(names))
            """);
    String tables = sqlite3("SELECT count(*) FROM sqlite_schema WHERE type = 'table'").getFirst();
    assertThat(run("python3", program.toString(), folder.resolve(DataFolder.FILE).toString()))
        .containsExactly(tables);
  }
}
