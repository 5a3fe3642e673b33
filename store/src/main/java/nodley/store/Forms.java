package nodley.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.file.ListFile;
import nodley.core.file.PartFile;
import nodley.core.file.Shared;
import nodley.core.file.Surroundings;
import nodley.core.file.TextsFile;
import nodley.core.form.Form;
import nodley.core.text.Languages;

/**
 * The published forms, and the lists and parts that they share: every text in the store, what the
 * texts mean in memory. Whatever is published, all forms are read against it first; one that it
 * would break stands against it.
 */
public final class Forms {

  private static final String SELECT =
      "SELECT name, revision, edition, format, text FROM nodley_forms"
          + " JOIN nodley_revisions USING (revision) WHERE name = form";

  private final Writer writer;
  private volatile Known current;

  /** What became of a publish. */
  public enum Change {
    NEW,
    REVISED,
    UNCHANGED
  }

  /** A published form, and whether anything changed. */
  public record Published(PublishedForm form, Change change) {}

  /** What forms share, and their texts, by kind. */
  public enum Kind {
    LIST,
    PART,
    /** Texts of one form in one language; the name is of both, such as {@code visit.de}. */
    TEXTS
  }

  /** The text of a list, a part, or of texts. */
  public record SharedText(Kind kind, String name, Format format, String text) {}

  /** A form's text before it is read. */
  private record Source(String name, int revision, int edition, Format format, String text) {}

  /** Everything that is published, at one moment. */
  private record Known(
      Map<String, PublishedForm> forms, Map<String, SharedText> texts, Shared shared) {}

  Forms(Database database, Writer writer) {
    this.writer = writer;
    this.current = database.read(Forms::load);
  }

  private static Known load(Connection connection) throws SQLException {
    Map<String, SharedText> texts = new TreeMap<>();
    Sql.list(
            connection,
            row ->
                new SharedText(
                    Kind.valueOf(row.getString("kind")),
                    row.getString("name"),
                    Format.valueOf(row.getString("format")),
                    row.getString("text")),
            "SELECT kind, name, format, text FROM nodley_shared")
        .forEach(text -> texts.put(key(text.kind(), text.name()), text));
    try {
      Shared shared = shared(texts.values());
      List<Source> sources = Sql.list(connection, Forms::source, SELECT);
      return new Known(read(sources, shared, texts), texts, shared);
    } catch (FormFileException | StoreException.Breaks e) {
      throw new StoreException.BadFolder(
          "What was published by an earlier Nodley cannot be read by this one:\n" + e.getMessage(),
          e);
    }
  }

  private static String key(Kind kind, String name) {
    return kind + " " + name;
  }

  private static Source source(ResultSet row) throws SQLException {
    return new Source(
        row.getString("name"),
        row.getInt("revision"),
        row.getInt("edition"),
        Format.valueOf(row.getString("format")),
        row.getString("text"));
  }

  private static Source source(PublishedForm form) {
    return new Source(form.name(), form.revision(), form.edition(), form.format(), form.text());
  }

  private static Shared shared(Collection<SharedText> texts) throws FormFileException {
    Shared shared = Shared.NONE;
    for (Kind kind : Kind.values()) {
      for (SharedText text : texts) {
        if (text.kind() == kind) {
          shared = with(shared, text);
        }
      }
    }
    return shared;
  }

  private static Shared with(Shared shared, SharedText text) throws FormFileException {
    Optional<String> name = Optional.of(text.name());
    return switch (text.kind()) {
      case LIST -> shared.with(ListFile.read(text.text(), text.format(), name));
      case PART ->
          shared.with(PartFile.read(text.text(), text.format(), name, Surroundings.alone(shared)));
      case TEXTS -> shared;
    };
  }

  /**
   * Reads all forms against each other. They may refer in circles, so each is first read alone,
   * which is enough to know its fields.
   */
  private static Map<String, PublishedForm> read(
      Collection<Source> sources, Shared shared, Map<String, SharedText> texts) {
    Map<String, List<String>> broken = new LinkedHashMap<>();
    Map<String, Form> alone = new LinkedHashMap<>();
    for (Source source : sources) {
      read(source, Surroundings.alone(shared), broken)
          .ifPresent(form -> alone.put(source.name(), form));
    }
    Map<String, PublishedForm> forms = new TreeMap<>();
    for (Source source : sources) {
      if (!broken.containsKey(source.name())) {
        Surroundings surroundings = Surroundings.of(alone, shared);
        read(source, surroundings, broken)
            .ifPresent(
                form ->
                    forms.put(
                        source.name(),
                        new PublishedForm(
                            form,
                            source.revision(),
                            source.edition(),
                            source.text(),
                            source.format(),
                            languages(form, texts, surroundings))));
      }
    }
    if (!broken.isEmpty()) {
      throw new StoreException.Breaks(broken);
    }
    return forms;
  }

  /** The form in each language that ships, and in those that it has texts in. */
  private static List<Form> languages(
      Form form, Map<String, SharedText> texts, Surroundings surroundings) {
    Map<Locale, Form> languages = new LinkedHashMap<>();
    Languages.SHIPPED.forEach(language -> languages.put(language, form.in(language)));
    for (SharedText text : texts.values()) {
      TextsFile.Name name = nameOf(text).filter(it -> it.form().equals(form.name())).orElse(null);
      if (name != null) {
        languages.put(
            name.language(),
            TextsFile.reread(text.text(), text.format(), form, name.language(), surroundings)
                .form());
      }
    }
    return List.copyOf(languages.values());
  }

  private static Optional<TextsFile.Name> nameOf(SharedText text) {
    return text.kind() == Kind.TEXTS ? TextsFile.name(text.name()) : Optional.empty();
  }

  private static Optional<Form> read(
      Source source, Surroundings surroundings, Map<String, List<String>> broken) {
    try {
      return Optional.of(
          FormFile.read(source.text(), source.format(), surroundings.named(source.name())));
    } catch (FormFileException e) {
      broken.put(source.name(), e.errors().stream().map(Object::toString).toList());
      return Optional.empty();
    }
  }

  /** The current forms, by name. */
  public Collection<PublishedForm> all() {
    return Collections.unmodifiableCollection(current.forms().values());
  }

  public Optional<PublishedForm> find(String name) {
    return Optional.ofNullable(current.forms().get(name));
  }

  /** The lists, parts and texts there are. */
  public List<SharedText> texts() {
    return List.copyOf(current.texts().values());
  }

  public Optional<SharedText> text(Kind kind, String name) {
    return Optional.ofNullable(current.texts().get(key(kind, name)));
  }

  /** What a form file that is to be published may refer to. */
  public Surroundings surroundings() {
    return surroundings(current);
  }

  private static Surroundings surroundings(Known known) {
    Map<String, Form> forms = new LinkedHashMap<>();
    known.forms().forEach((name, form) -> forms.put(name, form.form()));
    return Surroundings.of(forms, known.shared());
  }

  /**
   * Publishes a form: its text is kept as the next revision and its tables follow, in one
   * transaction.
   *
   * @param form what the text was read as, against {@link #surroundings}
   * @throws StoreException.StandsAgainst if kept records do not fit; nothing is changed
   * @throws StoreException.Breaks if other forms could not be read any more; nothing is changed
   */
  public synchronized Published publish(Form form, String text, Format format) {
    Optional<PublishedForm> earlier = find(form.name());
    if (earlier.filter(it -> it.text().equals(text) && it.format() == format).isPresent()) {
      return new Published(earlier.get(), Change.UNCHANGED);
    }
    Known before = current;
    int revision = earlier.map(PublishedForm::revision).orElse(0) + 1;
    int edition = earlier.map(PublishedForm::edition).orElse(0);
    Map<String, Source> sources = new TreeMap<>();
    before.forms().forEach((name, it) -> sources.put(name, source(it)));
    sources.put(form.name(), new Source(form.name(), revision, edition, format, text));
    Known after =
        new Known(
            read(sources.values(), before.shared(), before.texts()),
            before.texts(),
            before.shared());
    Known kept =
        write(
            before,
            after,
            connection ->
                Sql.run(
                    connection,
                    "INSERT INTO nodley_revisions (form, revision, format, text, published_at)"
                        + " VALUES (?, ?, ?, ?, ?)",
                    form.name(),
                    revision,
                    format.name(),
                    text,
                    Times.now()));
    return new Published(
        kept.forms().get(form.name()), earlier.isEmpty() ? Change.NEW : Change.REVISED);
  }

  /**
   * Publishes a list, a part or texts; the forms that use it follow, in one transaction.
   *
   * @throws FormFileException if it has errors
   * @throws StoreException.StandsAgainst if kept records do not fit
   * @throws StoreException.Breaks if forms that use it could not be read any more
   */
  public synchronized Change share(SharedText text) throws FormFileException {
    Known before = current;
    Optional<SharedText> earlier = text(text.kind(), text.name());
    if (earlier.equals(Optional.of(text))) {
      return Change.UNCHANGED;
    }
    Map<String, SharedText> texts = new TreeMap<>(before.texts());
    texts.put(key(text.kind(), text.name()), text);
    check(before, text);
    share(
        before,
        texts,
        connection ->
            Sql.run(
                connection,
                "INSERT INTO nodley_shared (kind, name, format, text) VALUES (?, ?, ?, ?)"
                    + " ON CONFLICT (kind, name) DO UPDATE SET format = excluded.format,"
                    + " text = excluded.text",
                text.kind().name(),
                text.name(),
                text.format().name(),
                text.text()));
    return earlier.isEmpty() ? Change.NEW : Change.REVISED;
  }

  /**
   * Removes a list, a part or texts.
   *
   * @return false if there is none of this name
   * @throws StoreException.Breaks if forms use it
   */
  public synchronized boolean unshare(Kind kind, String name) {
    Known before = current;
    Map<String, SharedText> texts = new TreeMap<>(before.texts());
    if (texts.remove(key(kind, name)) == null) {
      return false;
    }
    try {
      share(
          before,
          texts,
          connection ->
              Sql.run(
                  connection,
                  "DELETE FROM nodley_shared WHERE kind = ? AND name = ?",
                  kind.name(),
                  name));
    } catch (FormFileException e) {
      throw new IllegalStateException("what was shared before can be read", e);
    }
    return true;
  }

  /** Texts are read against the form as it is; other texts by themselves. */
  private static void check(Known before, SharedText text) throws FormFileException {
    TextsFile.Name name = nameOf(text).orElse(null);
    PublishedForm form = name == null ? null : before.forms().get(name.form());
    if (name != null && form == null) {
      throw new StoreException.NoForm(name.form());
    }
    if (form != null) {
      TextsFile.read(
          text.text(), text.format(), form.form(), name.language(), surroundings(before));
    } else {
      with(before.shared(), text);
    }
  }

  /**
   * What a form says in a language, and where from.
   *
   * @return nothing if there is no such form
   */
  public Optional<TextsFile> texts(String form, Locale language) {
    Known known = current;
    return Optional.ofNullable(known.forms().get(form))
        .map(
            published ->
                known.texts().values().stream()
                    .filter(
                        text ->
                            nameOf(text)
                                .filter(it -> it.form().equals(form))
                                .filter(it -> it.language().equals(language))
                                .isPresent())
                    .findFirst()
                    .map(
                        text ->
                            TextsFile.reread(
                                text.text(),
                                text.format(),
                                published.form(),
                                language,
                                surroundings(known)))
                    .orElseGet(() -> TextsFile.none(published.form(), language)));
  }

  private void share(Known before, Map<String, SharedText> texts, Writing writing)
      throws FormFileException {
    Shared shared = shared(texts.values());
    List<Source> sources = new ArrayList<>();
    before.forms().values().forEach(form -> sources.add(source(form)));
    write(before, new Known(read(sources, shared, texts), texts, shared), writing);
  }

  private interface Writing {
    void run(Connection connection) throws SQLException;
  }

  /** Writes what changed, lets the tables of all forms that mean something else follow. */
  private Known write(Known before, Known after, Writing writing) {
    Map<String, PublishedForm> forms = new TreeMap<>(after.forms());
    List<PublishedForm> changed = new ArrayList<>();
    for (PublishedForm form : after.forms().values()) {
      PublishedForm earlier = before.forms().get(form.name());
      boolean same =
          earlier != null
              && earlier.form().equals(form.form())
              && earlier.revision() == form.revision();
      if (!same) {
        PublishedForm next =
            new PublishedForm(
                form.form(),
                form.revision(),
                form.edition() + 1,
                form.text(),
                form.format(),
                form.languages());
        forms.put(form.name(), next);
        changed.add(next);
      }
    }
    Known next = new Known(forms, after.texts(), after.shared());
    writer.write(
        connection -> {
          for (PublishedForm form : changed) {
            Optional<Form> earlier =
                Optional.ofNullable(before.forms().get(form.name())).map(PublishedForm::form);
            FormTable.follow(connection, form.form(), earlier);
            Sql.run(
                connection,
                "INSERT INTO nodley_forms (name, revision, edition) VALUES (?, ?, ?)"
                    + " ON CONFLICT (name) DO UPDATE SET revision = excluded.revision,"
                    + " edition = excluded.edition",
                form.name(),
                form.revision(),
                form.edition());
          }
          writing.run(connection);
          return next;
        },
        () -> current = next);
    return next;
  }
}
