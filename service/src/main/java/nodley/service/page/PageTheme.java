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

  /** Addresses of stylesheets that are loaded before the theme's own. */
  List<String> styles() {
    return theme.map(Theme::styles).orElse(List.of());
  }

  /** How labels stand to controls where the form does not say it. */
  Pages.Layout layout() {
    return theme.map(Theme::layout).orElse(Pages.Layout.STACKED);
  }

  /** Whose pages they are; empty if nobody has said it. */
  String called() {
    return theme.flatMap(Theme::called).orElse("");
  }

  /** The address of the logo; empty if there is none. */
  String logo() {
    return theme.flatMap(Theme::logo).orElse("");
  }

  private String classes(Theme.Part part) {
    return theme.map(it -> it.classes(part)).orElse("");
  }

  /** HTML classes of labels; empty if the theme sets none, as those below. */
  String label() {
    return classes(Theme.Part.LABEL);
  }

  /** HTML classes of controls in which something is typed. */
  String control() {
    return classes(Theme.Part.CONTROL);
  }

  /** True if a control may have a class. */
  boolean hasClasses() {
    return !(select() + wrong()).isEmpty();
  }

  /** HTML classes of select lists: their own, else those of other controls. */
  String select() {
    String own = classes(Theme.Part.SELECT);
    return own.isEmpty() ? control() : own;
  }

  /** HTML classes of boxes to tick. */
  String checkbox() {
    return classes(Theme.Part.CHECKBOX).strip();
  }

  /** HTML classes that a control has besides while an error stands at it. */
  String wrong() {
    return classes(Theme.Part.WRONG);
  }

  /** HTML classes of the sentences under labels. */
  String help() {
    return classes(Theme.Part.HELP);
  }

  /** HTML classes of errors. */
  String error() {
    return classes(Theme.Part.ERROR);
  }

  /** HTML classes of what is around a field. */
  String row() {
    return classes(Theme.Part.ROW);
  }

  /** HTML classes of buttons. */
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
