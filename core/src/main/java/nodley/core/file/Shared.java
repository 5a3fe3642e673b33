package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Theme;

/**
 * What forms share: lists of options, parts, and themes. A form file that names one that is not
 * here has an error.
 */
public record Shared(
    Map<String, ListFile> lists, Map<String, PartFile> parts, Map<String, Theme> themes) {

  public static final Shared NONE = new Shared(Map.of(), Map.of(), Map.of());

  public Shared {
    lists = new LinkedHashMap<>(lists);
    parts = new LinkedHashMap<>(parts);
    themes = new LinkedHashMap<>(themes);
  }

  /** The same with a list added, or put in place of the one of its name. */
  public Shared with(ListFile list) {
    return new Shared(with(lists, list.name(), list), parts, themes);
  }

  /** The same with a part added, or put in place of the one of its name. */
  public Shared with(PartFile part) {
    return new Shared(lists, with(parts, part.name(), part), themes);
  }

  /** The same with a theme added, or put in place of the one of its name. */
  public Shared with(Theme theme) {
    return new Shared(lists, parts, with(themes, theme.name(), theme));
  }

  private static <T> Map<String, T> with(Map<String, T> all, String name, T one) {
    Map<String, T> more = new LinkedHashMap<>(all);
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
}
