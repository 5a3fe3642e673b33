package nodley.core.file;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Ask;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;

/**
 * Reads whom a form asks outside: {@code ask} of a field, and {@code asks} of the form. Whether the
 * settings have somebody of a name the service knows, and not the form file.
 */
final class AskReader {

  /** More would let one submission make too many calls. */
  private static final int MOST = 20;

  private final Section keys;
  private final FormRegistry registry;
  private final FieldPaths paths;

  AskReader(Section keys, Errors errors, SymbolTable names, FormRegistry registry) {
    this.keys = keys;
    this.registry = registry;
    this.paths = new FieldPaths(errors, names, type -> type != Type.SECRET, "be sent");
  }

  /** That of a field; its paths begin at the fields beside it. */
  Optional<Ask> ofField(String name) {
    return keys.section("ask").flatMap(section -> ofField(section, name));
  }

  private Optional<Ask> ofField(Section section, String name) {
    section.allow(FormKeys.ASK);
    Optional<String> of = of(section, "`ask` says whom to ask: `ask: { of: register }`.");
    Set<List<String>> sends = new LinkedHashSet<>(List.of(List.of(name)));
    Optional<List<List<String>>> named = sends(section);
    named.ifPresent(sends::addAll);
    boolean all = section.has("sends") && named.isEmpty();
    boolean early = section.word("on", "leaving", "submit").filter("submit"::equals).isEmpty();
    return of.map(
        it ->
            new Ask(
                it,
                Optional.of(List.of(name)),
                all ? Optional.empty() : Optional.of(List.copyOf(sends)),
                early));
  }

  /** All of a form: those of its fields, with their paths from the form, then its own. */
  List<Ask> all(Fields fields) {
    List<Ask> found = new ArrayList<>();
    collect(fields, List.of(), found);
    int index = 0;
    for (Node item : keys.items("asks").orElse(List.of())) {
      Section.of(item, keys.pointer("asks") + "/" + index++, "A question", paths.errors())
          .flatMap(this::ofForm)
          .ifPresent(found::add);
    }
    if (found.size() > MOST) {
      keys.bad(
          keys.has("asks") ? "asks" : "fields",
          "bad-value",
          "A form asks at most " + MOST + " times; this asks " + found.size() + " times.");
    }
    return found;
  }

  private Optional<Ask> ofForm(Section section) {
    section.allow(FormKeys.ASK_OF_FORM);
    Optional<String> of = of(section, "A question says whom to ask: `{ of: customs }`.");
    section.word("on", "submit");
    Optional<List<List<String>>> sends = sends(section);
    return of.map(it -> new Ask(it, Optional.empty(), sends, false));
  }

  private Optional<String> of(Section section, String missing) {
    if (!section.has("of")) {
      section.missing(missing);
      return Optional.empty();
    }
    Optional<String> of = section.text("of");
    if (of.isEmpty()) {
      return of;
    }
    if (!of.get().matches(FormKeys.NAME)) {
      section.bad(
          "of",
          "bad-value",
          "The name of who is asked is a small letter, then up to 39 small letters, digits or"
              + " hyphens.");
      return Optional.empty();
    }
    Optional<Set<String>> known = registry.outside().map(FormRegistry.Outside::asks);
    if (known.filter(it -> !it.contains(of.get())).isPresent()) {
      section.unset("of", "service to ask", of.get(), known.get());
    }
    return of;
  }

  /** Returns nothing for all fields, or where there is no such key. */
  private Optional<List<List<String>>> sends(Section section) {
    boolean all = section.node("sends").flatMap(Section::textOf).filter("all"::equals).isPresent();
    return all || !section.has("sends")
        ? Optional.empty()
        : Optional.of(paths.read(section, "sends"));
  }

  private void collect(Fields fields, List<String> groups, List<Ask> found) {
    for (Field field : fields) {
      field.ask().ifPresent(it -> found.add(within(groups, it)));
      if (field.type() == Type.GROUP) {
        collect(field.fields(), FieldPaths.join(groups, List.of(field.name())), found);
      } else if (field.type() == Type.ROWS
          && Form.every(field.fields()).stream().anyMatch(it -> it.field().ask().isPresent())) {
        keys.bad(
            "fields",
            "bad-value",
            "`"
                + field.name()
                + "` has an `ask` inside its rows, where nobody can be asked: ask about the form as"
                + " a whole, with `asks`.");
      }
    }
  }

  private static Ask within(List<String> groups, Ask ask) {
    return new Ask(
        ask.of(),
        ask.at().map(path -> FieldPaths.join(groups, path)),
        ask.sends().map(all -> all.stream().map(path -> FieldPaths.join(groups, path)).toList()),
        ask.early());
  }
}
