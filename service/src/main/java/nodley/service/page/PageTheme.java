package nodley.service.page;

import java.net.URI;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Pages;
import nodley.core.form.Theme;
import nodley.service.caller.SafeHeaders;

/**
 * The theme of a page, prepared for its templates: stylesheets, HTML classes of parts, and the
 * content security policy that they need. Immutable.
 *
 * @param onwards where the page's form leads once it is accepted
 * @param frames the origins whose pages may show this one in a frame
 */
record PageTheme(Optional<Theme> theme, List<String> onwards, List<String> frames) {

  /** The same page in another theme. */
  PageTheme with(Theme other) {
    return new PageTheme(Optional.of(other), onwards, frames);
  }

  /** The address of the theme's own stylesheet. */
  String sheet() {
    return theme.map(it -> "/page/themes/" + it.name() + ".css").orElse("");
  }

  List<String> styles() {
    return theme.map(Theme::styles).orElse(List.of());
  }

  Pages.Layout layout() {
    return theme.map(Theme::layout).orElse(Pages.Layout.STACKED);
  }

  /** Whose pages they are; empty if nobody has said it. */
  String called() {
    return theme.flatMap(Theme::called).orElse("");
  }

  String logo() {
    return theme.flatMap(Theme::logo).orElse("");
  }

  private String classes(Theme.Part part) {
    return theme.map(it -> it.classes(part)).orElse("");
  }

  String label() {
    return classes(Theme.Part.LABEL);
  }

  String control() {
    return classes(Theme.Part.CONTROL);
  }

  /** True if a control may have a class. */
  boolean hasClasses() {
    return !(select() + wrong()).isEmpty();
  }

  String select() {
    String own = classes(Theme.Part.SELECT);
    return own.isEmpty() ? control() : own;
  }

  String checkbox() {
    return classes(Theme.Part.CHECKBOX).strip();
  }

  String wrong() {
    return classes(Theme.Part.WRONG);
  }

  String help() {
    return classes(Theme.Part.HELP);
  }

  String error() {
    return classes(Theme.Part.ERROR);
  }

  String row() {
    return classes(Theme.Part.ROW);
  }

  String button() {
    return classes(Theme.Part.BUTTON);
  }

  /**
   * The policy that lets in what comes from elsewhere, and out what goes there; nothing if all is
   * the service's own.
   */
  Optional<String> policy() {
    String styles = origins(styles());
    String images = origins(List.of(logo()));
    String next = origins(onwards);
    return (styles + images + next).isEmpty() && frames.isEmpty()
        ? Optional.empty()
        : Optional.of(SafeHeaders.page(styles, images, next, frames));
  }

  private static String origins(List<String> addresses) {
    Set<String> origins = new LinkedHashSet<>();
    for (String address : addresses) {
      if (address.startsWith("http")) {
        URI uri = URI.create(address);
        origins.add(" " + uri.getScheme() + "://" + uri.getRawAuthority());
      }
    }
    return String.join("", origins);
  }
}
