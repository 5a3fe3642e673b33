package nodley.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Collection;
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
import nodley.core.file.ThemeFile;
import nodley.core.form.Form;
import nodley.core.text.Languages;

/**
 * Everything that is published, at one moment: the texts, and what they mean when they are read
 * against each other.
 */
record Snapshot(
    Map<String, PublishedForm> forms, Map<String, Forms.SharedText> texts, Shared shared) {

  private static final String SELECT =
      "SELECT name, revision, edition, format, text FROM nodley_forms"
          + " JOIN nodley_revisions USING (revision) WHERE name = form";

  /** A form's text before it is read. */
  record Source(String name, int revision, int edition, Format format, String text) {}

  /** What a file that is to be published may refer to. */
  Surroundings surroundings() {
    Map<String, Form> byName = new LinkedHashMap<>();
    forms.forEach((name, form) -> byName.put(name, form.form()));
    return Surroundings.of(byName, shared);
  }

  static Snapshot load(Connection connection) throws SQLException {
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
      Shared shared = shared(texts.values());
      List<Source> sources = Sql.list(connection, Snapshot::source, SELECT);
      return new Snapshot(read(sources, shared, texts), texts, shared);
    } catch (FormFileException | StoreException.Breaks e) {
      throw new StoreException.BadFolder(
          "What was published by an earlier Nodley cannot be read by this one:\n" + e.getMessage(),
          e);
    }
  }

  static String key(Forms.Kind kind, String name) {
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

  static Source source(PublishedForm form) {
    return new Source(form.name(), form.revision(), form.edition(), form.format(), form.text());
  }

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

  static Shared with(Shared shared, Forms.SharedText text) throws FormFileException {
    Optional<String> name = Optional.of(text.name());
    return switch (text.kind()) {
      case LIST -> shared.with(ListFile.read(text.text(), text.format(), name));
      case PART ->
          shared.with(PartFile.read(text.text(), text.format(), name, Surroundings.alone(shared)));
      case THEME -> shared.with(ThemeFile.read(text.text(), text.format(), name));
      case TEXTS -> shared;
    };
  }

  /**
   * Reads all forms against each other. They may refer in circles, so each is first read alone,
   * which is enough to know its fields.
   */
  static Map<String, PublishedForm> read(
      Collection<Source> sources, Shared shared, Map<String, Forms.SharedText> texts) {
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
      Form form, Map<String, Forms.SharedText> texts, Surroundings surroundings) {
    Map<Locale, Form> languages = new LinkedHashMap<>();
    Languages.SHIPPED.forEach(language -> languages.put(language, form.in(language)));
    for (Forms.SharedText text : texts.values()) {
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

  static Optional<TextsFile.Name> nameOf(Forms.SharedText text) {
    return text.kind() == Forms.Kind.TEXTS ? TextsFile.name(text.name()) : Optional.empty();
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
}
