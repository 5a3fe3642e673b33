package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.core.name.Words;
import nodley.core.value.Wellformed;

/**
 * Reads how the pages of a form are laid out: {@code layout}, {@code sections} or {@code steps},
 * {@code buttons}, {@code frames}.
 */
record PagesReader(Section file, Fields fields, FormRegistry registry, Errors errors) {

  Pages read() {
    Optional<Section> buttons = file.section("buttons");
    buttons.ifPresent(it -> it.allow(FormKeys.BUTTONS));
    String key = file.has("steps") ? "steps" : "sections";
    if (file.has("steps") && file.has("sections")) {
      file.bad(
          "sections", "bad-value", "A form has `sections`, all on one page, or `steps`, not both.");
    }
    return new Pages(
        file.text("intro").orElse(""),
        layout(file),
        file.section(key).map(it -> sections(key, it)).orElse(List.of()),
        key.equals("steps"),
        buttons.flatMap(it -> it.text("add")),
        buttons.flatMap(it -> it.text("edit")),
        sites("origins"),
        sites("frames"),
        theme(),
        file.bool("trap").orElse(true));
  }

  /** The same key stands in a form and in a theme. */
  static Optional<Pages.Layout> layout(Section file) {
    String[] words =
        Arrays.stream(Pages.Layout.values()).map(Pages.Layout::word).toArray(String[]::new);
    return file.word("layout", words).flatMap(Pages.Layout::of);
  }

  private Optional<String> theme() {
    Optional<String> name = file.text("theme");
    if (name.isEmpty() || registry.hasTheme(name.get())) {
      return name;
    }
    file.unpublished("theme", "theme", name.get(), registry.shared().themes().keySet());
    return Optional.empty();
  }

  /** Each field stands in one section: a page must not lose one without a word. */
  private List<Pages.Section> sections(String key, Section all) {
    List<Pages.Section> sections = new ArrayList<>();
    Map<String, String> seen = new HashMap<>();
    int before = errors.count();
    String what = key.equals("steps") ? "step" : "section";
    for (Node.Entry entry : all.entries()) {
      if (!entry.key().matches(FormKeys.NAME)) {
        all.bad(
            entry.key(),
            "bad-value",
            "A "
                + what
                + "'s name is a small letter, then up to 39 small letters, digits or hyphens.");
        continue;
      }
      if (what.equals("step") && entry.key().equals(Pages.OVERVIEW)) {
        all.bad(
            entry.key(),
            "bad-value",
            "`overview` is what follows the last step; give the step another name.");
      }
      all.section(entry.key()).ifPresent(it -> sections.add(section(what, entry.key(), it, seen)));
    }
    if (what.equals("step")) {
      checkSecrets();
    }
    // Secrets are asked for in the overview of steps, whether a step names them or not.
    List<String> left =
        fields.list().stream()
            .filter(it -> !seen.containsKey(it.name()) && !(key.equals("steps") && it.isSecret()))
            .map(Field::name)
            .toList();
    if (!left.isEmpty() && errors.count() == before) {
      file.bad(
          key,
          "bad-value",
          "`" + left.getFirst() + "` is in no " + what + "; each field stands in one.");
    }
    return sections;
  }

  /** The overview asks for secrets, since no draft has them; a row cannot be asked for there. */
  private void checkSecrets() {
    for (Form.Placed placed : Form.every(fields)) {
      if (placed.field().isSecret() && placed.path().size() > 1) {
        file.bad(
            "steps",
            "bad-value",
            "`"
                + placed.dotted()
                + "` is a secret inside of others, which no step can keep; put it outside.");
      }
    }
  }

  private Pages.Section section(String what, String name, Section keys, Map<String, String> seen) {
    keys.allow(what.equals("step") ? FormKeys.STEP : FormKeys.SECTION);
    if (!keys.has("fields")) {
      keys.missing("A " + what + " names its fields: `fields: [name, length]`.");
    }
    List<String> inside = new ArrayList<>();
    for (Node item : keys.items("fields").orElse(List.of())) {
      String field = Section.textOf(item).orElse("");
      if (fields.find(field).isEmpty()) {
        errors.unknown(item.place(), keys.pointer("fields"), "field", field, fields.names(), "");
      } else if (seen.putIfAbsent(field, name) != null) {
        errors.add(
            item.place(),
            keys.pointer("fields"),
            "duplicate",
            "`" + field + "` stands in " + what + " `" + seen.get(field) + "` already.");
      } else {
        inside.add(field);
      }
    }
    return new Pages.Section(name, keys.text("title").orElse(Words.of(name)), inside);
  }

  /** Sites as a browser names them in {@code Origin}: scheme, host and port, nothing behind. */
  private List<String> sites(String key) {
    List<String> origins = new ArrayList<>();
    for (Node item : file.items(key).orElse(List.of())) {
      String origin = Section.textOf(item).orElse("");
      if (origin.matches(
          "https?://[a-z0-9.\\-]+(:[0-9]{1,5})?|https?://\\[[0-9a-f:]+](:[0-9]{1,5})?")) {
        origins.add(origin);
      } else {
        errors.add(
            item.place(),
            file.pointer(key),
            "bad-value",
            "An origin is a scheme and a host in small letters, with a port where it has one, and"
                + " nothing behind: https://harbour.example, not \""
                + Wellformed.of(origin)
                + "\".");
      }
    }
    return origins;
  }
}
