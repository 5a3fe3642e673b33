package nodley.core.file;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import nodley.core.form.Pages;
import nodley.core.form.Theme;

/**
 * How pages look: {@code NAME.theme.yaml}.
 *
 * <pre>
 * theme: harbour
 * colours:
 *   accent: { light: "#7a2e1d", dark: "#f0a58f" }
 * radius: 2
 * font: Georgia, serif
 * classes: { control: our-control, error: our-error }
 * </pre>
 *
 * Words must be readable on what is behind them: pairs of colours keep the contrast that WCAG 2.2
 * asks for (1.4.3: 4.5 to 1; 1.4.11 for the edges of controls: 3 to 1).
 */
public final class ThemeFile {

  private static final String NAME = "[a-z][a-z0-9-]{0,39}";
  private static final String COLOUR = "#[0-9A-Fa-f]{6}";
  private static final String FONT = "[A-Za-z0-9 ,'\"-]{1,200}";
  private static final String CLASSES = "[A-Za-z0-9_:/.\\[\\]%-]+( [A-Za-z0-9_:/.\\[\\]%-]+){0,19}";
  private static final String ADDRESS = "https?://[A-Za-z0-9.-]+(:[0-9]{1,5})?/[\\w./%?=&@+~-]*";
  private static final String PATH = "/[A-Za-z0-9][\\w./%?=&@+~-]*";
  private static final String IMAGE = "data:image/(png|jpeg|webp|svg\\+xml);base64,[A-Za-z0-9+/=]+";
  private static final int MAX_LOGO = 100_000;
  private static final int MAX_STYLES = 5;
  private static final BigDecimal MAX_RADIUS = BigDecimal.valueOf(32);

  private final Section file;
  private final Errors errors;

  private ThemeFile(Section file, Errors errors) {
    this.file = file;
    this.errors = errors;
  }

  /**
   * Reads a theme.
   *
   * @param expected the name it must have, where its place has given it one already
   * @throws FormFileException with all that is wrong
   */
  public static Theme read(String text, Format format, Optional<String> expected)
      throws FormFileException {
    var errors = new Errors();
    Section file = SharedFile.open(text, format, "theme", NAME, expected, errors);
    file.allow(
        "A theme",
        List.of(
            "theme", "name", "scheme", "layout", "colours", "radius", "font", "logo", "classes",
            "styles"));
    Theme theme = new ThemeFile(file, errors).theme();
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return theme;
  }

  private Theme theme() {
    Theme.Scheme scheme =
        file.word("scheme", words(Theme.Scheme.values(), Theme.Scheme::word))
            .flatMap(Theme.Scheme::of)
            .orElse(Theme.Scheme.BOTH);
    Theme theme =
        new Theme(
            file.text("theme").orElse(""),
            file.text("name"),
            scheme,
            PagesReader.layout(file).orElse(Pages.Layout.STACKED),
            colours(),
            radius(),
            matching("font", FONT, "names of fonts, such as: Georgia, serif"),
            logo(),
            classes(),
            styles());
    if (errors.isEmpty()) {
      Contrast.check(theme, file);
    }
    return theme;
  }

  private static <T> String[] words(T[] all, Function<T, String> word) {
    return Arrays.stream(all).map(word).toArray(String[]::new);
  }

  private Map<Theme.Colour, Theme.Shade> colours() {
    Map<Theme.Colour, Theme.Shade> colours = new EnumMap<>(Theme.Colour.class);
    Section section = file.section("colours").orElse(null);
    if (section == null) {
      return colours;
    }
    section.allow("`colours`", List.of(words(Theme.Colour.values(), Theme.Colour::word)));
    for (Node.Entry entry : section.entries()) {
      Theme.Colour.of(entry.key())
          .ifPresent(colour -> shade(section, entry).ifPresent(it -> colours.put(colour, it)));
    }
    return colours;
  }

  /** One colour for both, or one for each. */
  private Optional<Theme.Shade> shade(Section section, Node.Entry entry) {
    if (!(entry.value() instanceof Node.Mapping)) {
      return colour(section, entry.key()).map(it -> new Theme.Shade(it, it));
    }
    Section both = section.section(entry.key()).orElseThrow();
    both.allow("A colour", List.of("light", "dark"));
    for (String key : List.of("light", "dark")) {
      if (!both.has(key)) {
        both.missing("A colour that is not the same in both has `light` and `dark`.");
        return Optional.empty();
      }
    }
    Optional<String> dark = colour(both, "dark");
    return colour(both, "light").flatMap(light -> dark.map(it -> new Theme.Shade(light, it)));
  }

  private Optional<String> colour(Section section, String key) {
    Optional<String> text = section.node(key).flatMap(Section::textOf);
    if (text.isEmpty() || !text.get().matches(COLOUR)) {
      section.bad(key, "bad-value", "A colour is six hexadecimal digits, in quotes: \"#0b5560\".");
      return Optional.empty();
    }
    return text.map(it -> it.toLowerCase(Locale.ROOT));
  }

  private Optional<BigDecimal> radius() {
    Optional<BigDecimal> radius = file.number("radius");
    if (radius.filter(it -> it.signum() < 0 || it.compareTo(MAX_RADIUS) > 0).isPresent()) {
      file.bad("radius", "bad-value", "The radius of corners is 0 to 32 pixels.");
    }
    return radius;
  }

  private Optional<String> logo() {
    Optional<String> logo =
        matching(
            "logo",
            PATH + "|" + ADDRESS + "|" + IMAGE,
            "a path that begins with /, an http(s) address, or the image itself:"
                + " data:image/svg+xml;base64,…");
    if (logo.filter(it -> it.length() > MAX_LOGO).isPresent()) {
      file.bad("logo", "bad-value", "An image in a theme has at most 100 000 characters.");
    }
    return logo;
  }

  private Map<Theme.Part, String> classes() {
    Map<Theme.Part, String> classes = new EnumMap<>(Theme.Part.class);
    Section section = file.section("classes").orElse(null);
    if (section == null) {
      return classes;
    }
    section.allow("`classes`", List.of(words(Theme.Part.values(), Theme.Part::word)));
    for (Node.Entry entry : section.entries()) {
      Theme.Part.of(entry.key())
          .ifPresent(
              part ->
                  matching(section, entry.key(), CLASSES, "names of classes, with spaces between")
                      .ifPresent(it -> classes.put(part, it)));
    }
    return classes;
  }

  private List<String> styles() {
    List<String> styles = new ArrayList<>();
    List<Node> items = file.items("styles").orElse(List.of());
    if (items.size() > MAX_STYLES) {
      file.bad("styles", "bad-value", "A theme reads at most 5 stylesheets.");
      return styles;
    }
    for (Node item : items) {
      Optional<String> style = Section.textOf(item);
      if (style.filter(it -> it.matches(PATH + "|" + ADDRESS)).isPresent()) {
        styles.add(style.get());
      } else {
        errors.add(
            item.place(),
            file.pointer("styles"),
            "bad-value",
            "A stylesheet is a path that begins with /, or an http(s) address.");
      }
    }
    return styles;
  }

  private Optional<String> matching(String key, String pattern, String wanted) {
    return matching(file, key, pattern, wanted);
  }

  private static Optional<String> matching(
      Section section, String key, String pattern, String wanted) {
    Optional<String> text = section.text(key);
    if (text.filter(it -> !it.matches(pattern)).isPresent()) {
      section.bad(key, "bad-value", "`" + key + "` is " + wanted + ".");
      return Optional.empty();
    }
    return text;
  }
}
