package nodley.core.form;

import java.math.BigDecimal;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * How pages look where they differ from Nodley's own look: colours, fonts, layout, HTML classes.
 * Immutable. A form names its theme; {@link #OF_SERVICE} is that of all others. Contrast is checked
 * when the theme's file is read, so that whatever is here can be read by people.
 *
 * @param called whose pages they are, as people read it
 * @param layout of forms that have none of their own
 * @param radius of corners, in CSS pixels, 0 to 32
 * @param font the families of letters, as CSS lists them
 * @param logo the address of an image, or the image itself as a {@code data:} address
 * @param classes what HTML classes the parts of a page get besides their own
 * @param styles addresses of stylesheets that are read after Nodley's own
 */
public record Theme(
    String name,
    Optional<String> called,
    Scheme scheme,
    Pages.Layout layout,
    Map<Colour, Shade> colours,
    Optional<BigDecimal> radius,
    Optional<String> font,
    Optional<String> logo,
    Map<Part, String> classes,
    List<String> styles) {

  /** The theme of this name dresses all pages of the service whose form names no other. */
  public static final String OF_SERVICE = "service";

  public Theme {
    colours = Map.copyOf(colours);
    classes = Map.copyOf(classes);
    styles = List.copyOf(styles);
  }

  /** Whether pages are light, dark, or as the person's device is. */
  public enum Scheme {
    LIGHT("light"),
    DARK("dark"),
    BOTH("light dark");

    private final String css;

    Scheme(String css) {
      this.css = css;
    }

    /** Returns the word for it in theme files. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Returns the one that a word of a theme file means; empty for another word. */
    public static Optional<Scheme> of(String word) {
      return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
    }
  }

  /** A colour in light and in dark, as {@code #rrggbb}. */
  public record Shade(String light, String dark) {}

  /** What has a colour, and the one that it has in Nodley's own look. */
  public enum Colour {
    /** Behind everything. */
    PAPER("#f6f7f4", "#10191c"),
    /** Behind forms, controls, tables. */
    SHEET("#ffffff", "#172327"),
    INK("#16252b", "#e6eeee"),
    /** Of help and other second words. */
    SOFT("#526369", "#a3b5b9"),
    /** Between parts of a page. */
    LINE("#cbd5d4", "#2f4046"),
    /** Around controls. */
    EDGE("#84969a", "#6c8087"),
    /** Of buttons, links and what has the focus. */
    ACCENT("#0b5560", "#6fc3cd"),
    /** The same under the pointer. */
    ACCENT_STRONG("#083f47", "#93d6de"),
    ON_ACCENT("#ffffff", "#08262b"),
    WRONG("#a3241c", "#ff9b8f"),
    WRONG_SHEET("#fdf1ef", "#33201f"),
    RIGHT("#1c6640", "#86d3a2"),
    RIGHT_SHEET("#ecf6ef", "#172e21");

    private final Shade usual;

    Colour(String light, String dark) {
      usual = new Shade(light, dark);
    }

    /** The key in a theme file, and with two hyphens before it the property in CSS. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** Returns Nodley's own shade. */
    public Shade usual() {
      return usual;
    }

    /** Returns the one that a word of a theme file means; empty for another word. */
    public static Optional<Colour> of(String word) {
      return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
    }
  }

  /** What may have classes of the developer's. */
  public enum Part {
    LABEL,
    CONTROL,
    /** Instead of those of a control. */
    SELECT,
    /** Radio buttons, too. */
    CHECKBOX,
    /** A control while its field has an error. */
    WRONG,
    HELP,
    ERROR,
    /** A field with all that belongs to it. */
    ROW,
    BUTTON;

    /** Returns the word for it in theme files. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Returns the one that a word of a theme file means; empty for another word. */
    public static Optional<Part> of(String word) {
      return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
    }
  }

  /** Returns the shade of a colour in this theme. */
  public Shade shade(Colour colour) {
    return colours.getOrDefault(colour, colour.usual());
  }

  /** The classes of a part, with a space before them; empty if it has none. */
  public String classes(Part part) {
    return Optional.ofNullable(classes.get(part)).map(it -> " " + it).orElse("");
  }

  /** What it changes of Nodley's own look: custom properties of CSS. */
  public String css() {
    StringBuilder css = new StringBuilder(":root {\n  color-scheme: ").append(scheme.css);
    for (Colour colour : Colour.values()) {
      Shade shade = colours.get(colour);
      if (shade != null) {
        css.append(";\n  --").append(colour.word()).append(": light-dark(");
        css.append(shade.light()).append(", ").append(shade.dark()).append(")");
      }
    }
    radius.ifPresent(it -> css.append(";\n  --radius: ").append(it.toPlainString()).append("px"));
    font.ifPresent(it -> css.append(";\n  font-family: ").append(it));
    return css.append(";\n}\n").toString();
  }
}
