package nodley.store.form;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Stream;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.FormRegistry.Use;
import nodley.core.file.Format;
import nodley.core.file.ListFile;
import nodley.core.file.PartFile;
import nodley.core.file.ServiceTexts;
import nodley.core.file.Shared;
import nodley.core.file.TextsFile;
import nodley.core.file.ThemeFile;
import nodley.core.form.Form;
import nodley.core.text.Languages;
import nodley.store.common.Lazy;
import nodley.store.common.StoreException;
import nodley.store.form.PublishedForm.Reading;
import nodley.store.form.PublishedForm.Source;
import nodley.store.sqlite.Sql;

/**
 * All published files at one moment: their texts, and their meaning when read against each other.
 * Immutable.
 */
public record Snapshot(
    Map<String, PublishedForm> forms, Map<String, Forms.SharedText> texts, Shared shared) {

  private static final String SELECT =
      "SELECT name, revision, edition, format, text FROM nodley_forms"
          + " JOIN nodley_revisions USING (revision) WHERE name = form";

  /** Before anything is published. */
  private static final Snapshot EMPTY = new Snapshot(Map.of(), Map.of(), Shared.NONE);

  /** What a file that is to be published may refer to. */
  public FormRegistry registry() {
    Map<String, Supplier<Form>> byName = new LinkedHashMap<>();
    forms.forEach((name, form) -> byName.put(name, form::form));
    return FormRegistry.ofUnread(byName, shared);
  }

  /**
   * What a data folder has. The forms are read as they are asked for, or by {@link #readAll}.
   *
   * @throws StoreException.BadFolder if what they share cannot be read
   */
  public static Snapshot load(Connection connection) throws SQLException {
    Map<String, Forms.SharedText> texts = new TreeMap<>();
    Sql.list(
            connection,
            row ->
                new Forms.SharedText(
                    Forms.Kind.valueOf(row.getString("kind")),
                    row.getString("name"),
                    Format.valueOf(row.getString("format")),
                    row.getString("text")),
            "SELECT kind, name, format, text FROM nodley_shared")
        .forEach(text -> texts.put(key(text.kind(), text.name()), text));
    try {
      List<Source> sources = Sql.list(connection, Snapshot::source, SELECT);
      return EMPTY.next(sources, texts, shared(texts.values()), _ -> true);
    } catch (FormFileException e) {
      throw unreadable(e);
    }
  }

  /**
   * Reads every form that is not read yet.
   *
   * @throws StoreException.BadFolder if one cannot be read
   */
  public void readAll() {
    try {
      whole();
    } catch (StoreException.Breaks e) {
      throw unreadable(e);
    }
  }

  private static StoreException.BadFolder unreadable(Exception e) {
    return new StoreException.BadFolder(
        "What was published by an earlier Nodley cannot be read by this one:\n" + e.getMessage(),
        e);
  }

  /** Returns the key of a shared file: its kind and name. */
  public static String key(Forms.Kind kind, String name) {
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

  /**
   * The same with a form published anew.
   *
   * @throws StoreException.Breaks if it, or one that refers to it, could not be read
   */
  public Snapshot with(Source form) {
    Map<String, Source> sources = sources();
    sources.put(form.name(), form);
    return next(sources.values(), texts, shared, uses(Use.Kind.FORM, form.name())).whole();
  }

  /**
   * The same without a form and its texts.
   *
   * @throws StoreException.Breaks if one that refers to it could not be read
   */
  public Snapshot without(String form) {
    Map<String, Source> sources = sources();
    sources.remove(form);
    Map<String, Forms.SharedText> others = new TreeMap<>(texts);
    others.values().removeIf(text -> nameOf(text).filter(it -> it.form().equals(form)).isPresent());
    return next(sources.values(), others, shared, uses(Use.Kind.FORM, form)).whole();
  }

  /**
   * The same with the text of a list, a part, a theme, or of texts.
   *
   * @throws FormFileException if what is shared has errors
   * @throws StoreException.Breaks if a form that uses it could not be read
   */
  public Snapshot with(Forms.SharedText text) throws FormFileException {
    Map<String, Forms.SharedText> all = new TreeMap<>(texts);
    all.put(key(text.kind(), text.name()), text);
    return next(sources().values(), all, shared(all.values()), uses(text)).whole();
  }

  /** The same without such a text, as {@link #with(Forms.SharedText)} has it. */
  public Snapshot without(Forms.SharedText text) throws FormFileException {
    Map<String, Forms.SharedText> all = new TreeMap<>(texts);
    all.remove(key(text.kind(), text.name()));
    return next(sources().values(), all, shared(all.values()), uses(text)).whole();
  }

  /**
   * The same with several forms and texts, none of which is read yet.
   *
   * @param shared what the texts mean together with those that were there
   */
  public Snapshot withUnread(
      Collection<Source> forms, Collection<Forms.SharedText> more, Shared shared) {
    Map<String, Source> sources = sources();
    Predicate<PublishedForm> concerned = _ -> false;
    for (Source form : forms) {
      sources.put(form.name(), form);
      concerned = concerned.or(uses(Use.Kind.FORM, form.name()));
    }
    Map<String, Forms.SharedText> all = new TreeMap<>(texts);
    for (Forms.SharedText text : more) {
      all.put(key(text.kind(), text.name()), text);
      concerned = concerned.or(uses(text));
    }
    return next(sources.values(), all, shared, concerned);
  }

  private Map<String, Source> sources() {
    Map<String, Source> sources = new TreeMap<>();
    forms.forEach((name, form) -> sources.put(name, form.source()));
    return sources;
  }

  private static Predicate<PublishedForm> uses(Use.Kind kind, String name) {
    var use = new Use(kind, name);
    return form -> form.uses().contains(use);
  }

  private static Predicate<PublishedForm> uses(Forms.SharedText text) {
    return uses(text.kind(), text.name());
  }

  /** Whether a form uses a shared text. */
  static Predicate<PublishedForm> uses(Forms.Kind kind, String name) {
    return switch (kind) {
      case LIST -> uses(Use.Kind.LIST, name);
      case PART -> uses(Use.Kind.PART, name);
      case THEME -> uses(Use.Kind.THEME, name);
      case TEXTS ->
          form ->
              TextsFile.name(name)
                  .filter(it -> it.isOfService() || it.form().equals(form.name()))
                  .isPresent();
    };
  }

  /**
   * Reads all shared files, in an order in which each finds what it refers to.
   *
   * @throws FormFileException at the first file with errors
   */
  static Shared shared(Collection<Forms.SharedText> texts) throws FormFileException {
    Shared shared = Shared.NONE;
    for (Forms.Kind kind : Forms.Kind.values()) {
      for (Forms.SharedText text : texts) {
        if (text.kind() == kind) {
          shared = with(shared, text);
        }
      }
    }
    return shared;
  }

  /** Returns the shared files with one more, or with another text for one. */
  public static Shared with(Shared shared, Forms.SharedText text) throws FormFileException {
    Optional<String> name = Optional.of(text.name());
    return switch (text.kind()) {
      case LIST -> shared.with(ListFile.read(text.text(), text.format(), name));
      case PART ->
          shared.with(PartFile.read(text.text(), text.format(), name, FormRegistry.alone(shared)));
      case THEME -> shared.with(ThemeFile.read(text.text(), text.format(), name));
      case TEXTS -> {
        TextsFile.Name file = nameOf(text).orElseThrow();
        yield file.isOfService()
            ? shared.with(ServiceTexts.read(text.text(), text.format(), file.language()))
            : shared;
      }
    };
  }

  /**
   * What follows on this one. Read are the forms whose text is another, and those that a change
   * concerns; all others mean what they meant. Forms may refer in circles, so each that is read is
   * first read alone, which is enough to know its fields.
   */
  private Snapshot next(
      Collection<Source> sources,
      Map<String, Forms.SharedText> allTexts,
      Shared allShared,
      Predicate<PublishedForm> concerned) {
    Map<String, PublishedForm> next = new TreeMap<>();
    Map<String, Supplier<Form>> known = new LinkedHashMap<>();
    FormRegistry all = FormRegistry.ofUnread(known, allShared);
    for (Source source : sources) {
      PublishedForm earlier = forms.get(source.name());
      if (earlier != null && earlier.source().equals(source) && !concerned.test(earlier)) {
        next.put(source.name(), earlier);
        known.put(source.name(), earlier::form);
      } else {
        Lazy<Reading> alone =
            new Lazy<>(() -> read(source, FormRegistry.alone(allShared), allTexts));
        Lazy<Reading> reading =
            new Lazy<>(
                () ->
                    alone.get().uses().stream().anyMatch(use -> use.kind() == Use.Kind.FORM)
                        ? read(source, all, allTexts)
                        : alone.get());
        next.put(source.name(), new PublishedForm(source, reading));
        known.put(source.name(), () -> alone.get().form());
      }
    }
    return new Snapshot(next, allTexts, allShared);
  }

  /**
   * This one, once every form that was not read yet has been.
   *
   * @throws StoreException.Breaks with all that cannot be read
   */
  public Snapshot whole() {
    Map<String, List<String>> broken = new TreeMap<>();
    for (PublishedForm form : forms.values()) {
      try {
        form.form();
      } catch (StoreException.Unreadable e) {
        broken.put(e.form(), e.errors().stream().map(Object::toString).toList());
      }
    }
    if (!broken.isEmpty()) {
      throw new StoreException.Breaks(broken);
    }
    return this;
  }

  /** The form in each language that ships, and in those that it or all forms have texts in. */
  private static List<Form> languages(
      Form form, Map<String, Forms.SharedText> texts, FormRegistry registry) {
    Map<Locale, Form> languages = new LinkedHashMap<>();
    Shared shared = registry.shared();
    Stream.concat(Languages.SHIPPED.stream(), shared.texts().keySet().stream())
        .forEach(language -> languages.put(language, shared.in(form, language)));
    for (Forms.SharedText text : texts.values()) {
      TextsFile.Name name = nameOf(text).filter(it -> it.form().equals(form.name())).orElse(null);
      if (name != null) {
        languages.put(
            name.language(),
            TextsFile.reread(text.text(), text.format(), form, name.language(), registry).form());
      }
    }
    return List.copyOf(languages.values());
  }

  /** Returns the form and language of a texts file; empty for other kinds. */
  public static Optional<TextsFile.Name> nameOf(Forms.SharedText text) {
    return text.kind() == Forms.Kind.TEXTS ? TextsFile.name(text.name()) : Optional.empty();
  }

  /** What a form means, and what it was looked for outside its text. */
  private static Reading read(
      Source source, FormRegistry registry, Map<String, Forms.SharedText> texts) {
    Set<Use> uses = new HashSet<>();
    FormRegistry told = registry.telling(uses::add);
    try {
      Form form = FormFile.read(source.text(), source.format(), told.named(source.name()));
      Form said = told.shared().in(form, form.language());
      return new Reading(said, languages(form, texts, told), uses);
    } catch (FormFileException e) {
      throw new StoreException.Unreadable(source.name(), e);
    }
  }
}
