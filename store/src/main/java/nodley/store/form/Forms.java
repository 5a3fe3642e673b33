package nodley.store.form;

import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Predicate;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.ServiceTexts;
import nodley.core.file.TextsFile;
import nodley.core.form.Form;
import nodley.core.form.Theme;
import nodley.core.submission.Sentences;
import nodley.store.common.StoreException;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The published forms with the lists, parts, themes and texts that they share: their text in the
 * database, their meaning in memory. Thread-safe; reading takes no lock. What publishes them is
 * {@code publish.FormPublisher}.
 */
public final class Forms {

  private static final Logger LOG = LoggerFactory.getLogger(Forms.class);

  private final Database database;
  private final AtomicReference<Snapshot> current;

  /** What forms share, and their texts, by kind. */
  public enum Kind {
    LIST,
    PART,
    THEME,
    /**
     * Texts of one form, or of all, in one language; the name is of both, such as {@code visit.de}
     * or {@code service.de}.
     */
    TEXTS
  }

  /** The text of a list, a part, a theme, or of texts. */
  public record SharedText(Kind kind, String name, Format format, String text) {}

  /** A text that a form was published with. */
  public record Revision(int number, Format format, String text, String publishedAt) {}

  /**
   * Reads a store's forms.
   *
   * @param current what is published now; publishing puts the next snapshot there
   */
  public Forms(Database database, AtomicReference<Snapshot> current) {
    this.database = database;
    this.current = current;
  }

  /** Reads what has not been asked for yet, on a thread of its own, beside what is served. */
  public void readAhead() {
    Thread.ofPlatform()
        .name("forms")
        .daemon()
        .start(
            () -> {
              try {
                current.get().readAll();
              } catch (StoreException e) {
                LOG.warn(e.getMessage());
              }
            });
  }

  /** The current forms, by name. */
  public Collection<PublishedForm> all() {
    return Collections.unmodifiableCollection(current.get().forms().values());
  }

  /** Returns the current revision of a form; empty if there is no such form. Takes no lock. */
  public Optional<PublishedForm> find(String name) {
    return Optional.ofNullable(current.get().forms().get(name));
  }

  /**
   * Checks, within a write, that a form has not been published anew: what is published has a commit
   * to itself, so nothing changes while a record is written.
   *
   * @throws StoreException.FormChanged if it has
   */
  public void checkCurrent(PublishedForm published) {
    if (find(published.name()).filter(it -> it.edition() == published.edition()).isEmpty()) {
      throw new StoreException.FormChanged();
    }
  }

  /** The lists, parts, themes and texts there are. */
  public List<SharedText> texts() {
    return List.copyOf(current.get().texts().values());
  }

  /** Returns the text of a list, part, theme or texts file; empty if there is none. */
  public Optional<SharedText> text(Kind kind, String name) {
    return Optional.ofNullable(current.get().texts().get(Snapshot.key(kind, name)));
  }

  /** What the pages of a form look like, if not as Nodley's own. */
  public Optional<Theme> theme(Form form) {
    return current.get().shared().theme(form);
  }

  /** What pages look like that belong to no form. */
  public Optional<Theme> theme() {
    return current.get().shared().theme();
  }

  /** A theme by its name. */
  public Optional<Theme> theme(String name) {
    return Optional.ofNullable(current.get().shared().themes().get(name));
  }

  /** The texts for all forms in a language; none are there if nothing was published. */
  public ServiceTexts serviceTexts(Locale language) {
    return Optional.ofNullable(current.get().shared().texts().get(language))
        .orElseGet(() -> new ServiceTexts(language, Map.of(), Map.of()));
  }

  /** The sentences of pages that belong to no form, in the first of some languages there is. */
  public Sentences sentences(List<Locale> wanted) {
    return current.get().shared().sentences(wanted);
  }

  /** What a form file that is to be published may refer to. */
  public FormRegistry registry() {
    return current.get().registry();
  }

  /**
   * A form as it would be if a text were published; nothing is changed.
   *
   * @throws StoreException.Breaks if it, or one that refers to it, could not be read
   */
  public PublishedForm proposed(String name, Format format, String text) {
    return current.get().with(new PublishedForm.Source(name, 0, 0, format, text)).forms().get(name);
  }

  /** The names of the forms that use a list, a part or a theme, in their order. */
  public List<String> using(Kind kind, String name) {
    Predicate<PublishedForm> uses = Snapshot.uses(kind, name);
    return all().stream().filter(uses).map(PublishedForm::name).toList();
  }

  /** What a form has been published with, the latest first. */
  public List<Revision> revisions(String form) {
    return database.read(
        connection ->
            Sql.list(
                connection,
                row ->
                    new Revision(
                        row.getInt("revision"),
                        Format.valueOf(row.getString("format")),
                        row.getString("text"),
                        row.getString("published_at")),
                "SELECT revision, format, text, published_at FROM nodley_revisions"
                    + " WHERE form = ? ORDER BY revision DESC",
                form));
  }

  /**
   * What a form says in a language, and where from.
   *
   * @return nothing if there is no such form
   */
  public Optional<TextsFile> texts(String form, Locale language) {
    Snapshot known = current.get();
    return Optional.ofNullable(known.forms().get(form))
        .map(
            published ->
                known.texts().values().stream()
                    .filter(
                        text ->
                            Snapshot.nameOf(text)
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
                                known.registry()))
                    .orElseGet(() -> TextsFile.none(published.form(), language, known.registry())));
  }
}
