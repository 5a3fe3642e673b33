package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Theme;
import nodley.core.submission.Sentences;

/**
 * What forms share, as it is at one moment: lists of options, parts, themes, and texts for all
 * forms by language. Immutable; a change makes a new one.
 */
public record Shared(
    Map<String, ListFile> lists,
    Map<String, PartFile> parts,
    Map<String, Theme> themes,
    Map<Locale, ServiceTexts> texts) {

  public static final Shared NONE = new Shared(Map.of(), Map.of(), Map.of(), Map.of());

  public Shared {
    lists = new LinkedHashMap<>(lists);
    parts = new LinkedHashMap<>(parts);
    themes = new LinkedHashMap<>(themes);
    texts = new LinkedHashMap<>(texts);
  }

  /** The same with a list added, or put in place of the one of its name. */
  public Shared with(ListFile list) {
    return new Shared(with(lists, list.name(), list), parts, themes, texts);
  }

  /** The same with a part added, or put in place of the one of its name. */
  public Shared with(PartFile part) {
    return new Shared(lists, with(parts, part.name(), part), themes, texts);
  }

  /** The same with a theme added, or put in place of the one of its name. */
  public Shared with(Theme theme) {
    return new Shared(lists, parts, with(themes, theme.name(), theme), texts);
  }

  /** The same with the texts for all forms in a language added, or put in place of those. */
  public Shared with(ServiceTexts added) {
    return new Shared(lists, parts, themes, with(texts, added.language(), added));
  }

  private static <K, T> Map<K, T> with(Map<K, T> all, K name, T one) {
    Map<K, T> more = new LinkedHashMap<>(all);
    more.put(name, one);
    return more;
  }

  /** What the pages of a form look like, if not as Nodley's own: its theme, or the service's. */
  public Optional<Theme> theme(Form form) {
    return form.pages().theme().map(themes::get).or(this::theme);
  }

  /** What pages look like that belong to no form. */
  public Optional<Theme> theme() {
    return Optional.ofNullable(themes.get(Theme.OF_SERVICE));
  }

  /** The texts for all forms in a language, or in the one that it is a kind of. */
  public Optional<ServiceTexts> texts(Locale language) {
    return Optional.ofNullable(texts.get(language))
        .or(() -> Optional.ofNullable(texts.get(Locale.of(language.getLanguage()))));
  }

  /** A form in a language, with the texts for all forms wherever it has none of its own. */
  public Form in(Form form, Locale language) {
    Form said = form.in(language);
    return texts(language).map(it -> it.completing(said)).orElse(said);
  }

  /** The sentences of pages that belong to no form, in the first of some languages there is. */
  public Sentences sentences(List<Locale> wanted) {
    Locale language =
        wanted.stream()
            .filter(it -> texts(it).isPresent() || Sentences.ships(it))
            .findFirst()
            .orElse(Locale.ENGLISH);
    return texts(language).map(ServiceTexts::sentences).orElseGet(() -> Sentences.in(language));
  }
}
