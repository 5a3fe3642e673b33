package nodley.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Collection;
import java.util.Collections;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.file.Surroundings;
import nodley.core.form.Form;

/** The published forms: every revision's text in the store, the current ones in memory as well. */
public final class Forms {

  private static final String SELECT =
      "SELECT revision, format, text FROM nodley_forms JOIN nodley_revisions USING (revision)"
          + " WHERE name = form";

  private final Writer writer;
  private volatile Map<String, PublishedForm> current;

  /** What became of a publish. */
  public enum Change {
    NEW,
    REVISED,
    UNCHANGED
  }

  /** A published form, and whether anything changed. */
  public record Published(PublishedForm form, Change change) {}

  Forms(Database database, Writer writer) {
    this.writer = writer;
    this.current = database.read(Forms::load);
  }

  private static Map<String, PublishedForm> load(Connection connection) throws SQLException {
    Map<String, PublishedForm> forms = new TreeMap<>();
    Sql.list(connection, Forms::fromRow, SELECT).forEach(form -> forms.put(form.name(), form));
    return forms;
  }

  private static PublishedForm fromRow(ResultSet row) throws SQLException {
    String text = row.getString("text");
    Format format = Format.valueOf(row.getString("format"));
    try {
      Form form = FormFile.read(text, format, Surroundings.UNKNOWN);
      return new PublishedForm(form, row.getInt("revision"), text, format);
    } catch (FormFileException e) {
      throw new StoreException.BadFolder(
          "A form that was published by an earlier Nodley cannot be read by this one:\n"
              + e.getMessage(),
          e);
    }
  }

  /** The current forms, by name. */
  public Collection<PublishedForm> all() {
    return Collections.unmodifiableCollection(current.values());
  }

  public Optional<PublishedForm> find(String name) {
    return Optional.ofNullable(current.get(name));
  }

  /** What a form file that is to be published may refer to. */
  public Surroundings surroundings() {
    return Surroundings.of(current.keySet());
  }

  /**
   * Publishes a form: its text is kept as the next revision and its table follows, in one
   * transaction.
   *
   * @throws StoreException.StandsAgainst if kept records do not fit; nothing is changed
   */
  public Published publish(Form form, String text, Format format) {
    Published[] done = new Published[1];
    return writer.write(
        connection -> done[0] = publish(connection, form, text, format),
        () -> remember(done[0].form()));
  }

  private Published publish(Connection connection, Form form, String text, Format format)
      throws SQLException {
    // Asked of the database, not of memory: two publishes may share one commit.
    Optional<PublishedForm> earlier =
        Sql.first(connection, Forms::fromRow, SELECT + " AND name = ?", form.name());
    if (earlier.filter(it -> it.text().equals(text) && it.format() == format).isPresent()) {
      return new Published(earlier.get(), Change.UNCHANGED);
    }
    int revision = earlier.map(PublishedForm::revision).orElse(0) + 1;
    new FormTable(connection, form, earlier.map(PublishedForm::form)).follow();
    Sql.run(
        connection,
        "INSERT INTO nodley_forms (name, revision) VALUES (?, ?)"
            + " ON CONFLICT (name) DO UPDATE SET revision = excluded.revision",
        form.name(),
        revision);
    Sql.run(
        connection,
        "INSERT INTO nodley_revisions (form, revision, format, text, published_at)"
            + " VALUES (?, ?, ?, ?, ?)",
        form.name(),
        revision,
        format.name(),
        text,
        Times.now());
    return new Published(
        new PublishedForm(form, revision, text, format),
        earlier.isEmpty() ? Change.NEW : Change.REVISED);
  }

  /** Runs on the writer's thread alone, so that no publish is lost between two. */
  private void remember(PublishedForm form) {
    Map<String, PublishedForm> next = new TreeMap<>(current);
    next.put(form.name(), form);
    current = next;
  }
}
