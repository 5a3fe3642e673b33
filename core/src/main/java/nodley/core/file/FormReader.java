package nodley.core.file;

import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.Path;
import nodley.core.form.After;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Template;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.name.Words;
import nodley.core.value.Addresses;
import nodley.core.value.Wellformed;

/**
 * Reads the keys of a form: names first, then fields, then all that refers to fields. Each part has
 * a reader of its own. Errors are collected and not thrown; the form that is returned is to be used
 * only if there are none.
 */
final class FormReader {

  /** Path, query and fragment of an address: RFC 3986, sections 3.3 to 3.5, and RFC 3987. */
  private static final String REST =
      "CHARS*(#CHARS*)?"
          .replace("CHARS", "(?:[A-Za-z0-9._~:/?@!$&'()*+,;=-]|%[0-9A-Fa-f]{2}|[^\\x00-\\x7F\\s])");

  private static final Set<String> ZONES = ZoneId.getAvailableZoneIds();

  /**
   * A table of a database has room for not many more columns, and a few are Nodley's own: SQLite's
   * limit is 2 000.
   */
  private static final int MOST_FIELDS = 1_900;

  private final Errors errors;
  private final FormRegistry registry;
  private SymbolTable names;
  private String name = "";

  FormReader(Errors errors, FormRegistry registry) {
    this.errors = errors;
    this.registry = registry;
  }

  Form read(Node tree) throws FormFileException {
    Section file = Section.of(tree, "#", "A form file", errors).orElse(null);
    if (file == null) {
      throw errors.thrown();
    }
    file.allow(FormKeys.FORM);
    name = name(file);
    String label = name.isEmpty() ? "" : Words.of(name);
    names =
        SymbolTable.of(
            name,
            file.node("fields").orElseGet(() -> new Node.Mapping(tree.place(), List.of())),
            registry);
    Fields fields = new StepsReader(file, names, errors).shown(fields(file, name));
    var templates = new TemplateReader(name, fields, registry);
    Optional<Template> called = called(file, templates);
    Optional<Section> after = after(file);
    Form.Records records = records(file);
    After added =
        new After(
            new Template(records == Form.Records.MANY ? "record" : "stay"),
            new Template(label + " added."),
            List.copyOf(fields.names()));
    After saved = new After(added.go(), new Template("Changes saved."), List.of());
    Form form =
        Form.builder(name, label)
            .titles(titles(file, label, called, templates))
            .called(called)
            .zone(zone(file))
            .access(AccessReader.read(file, records))
            .afterAdd(
                after
                    .map(section -> after(section, Mode.ADD, added, fields, templates))
                    .orElse(added))
            .afterEdit(
                after
                    .map(section -> after(section, Mode.EDIT, saved, fields, templates))
                    .orElse(saved))
            .records(records)
            .pace(PaceReader.read(file))
            .retention(new RetentionReader(file, fields, errors).read())
            .drafting(DraftReader.read(file))
            .deliveries(new DeliverReader(file, fields, names, registry, errors).read())
            .pages(new PagesReader(file, fields, registry, errors).read())
            .fields(fields)
            .rules(
                new RuleReader(file, new ReaderContext(name, errors, registry, names), names)
                    .read())
            .uniques(new UniqueReader(file, errors, names, registry).all(fields))
            .asks(new AskReader(file, errors, names, registry).all(fields))
            .confirmation(new ConfirmReader(file, registry).only(fields))
            .settling(settling(file, fields))
            .build();
    if (form.isKeepingNone()) {
      checkKeepingNone(file, form);
    }
    checkConfirmed(file, form);
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return form;
  }

  /** Nothing is confirmed of which no field says so. */
  private static void checkConfirmed(Section file, Form form) {
    boolean told =
        form.deliveries().stream().anyMatch(it -> it.on().contains(DeliveryRule.Change.CONFIRM));
    if (told && form.confirmation().isEmpty()) {
      file.bad(
          "deliver",
          "bad-value",
          "`on: confirm` tells of addresses that are confirmed, and no e-mail field of the form has"
              + " `confirm: true`.");
    }
  }

  /** What only records have, a form that keeps none cannot have. */
  private static void checkKeepingNone(Section file, Form form) {
    if (!file.has("deliver")) {
      file.missing(
          "A form with `records: none` keeps nothing, so it says who is told:"
              + " `deliver: [{ to: office }]`.");
    }
    for (String key : List.of("called", "keep-for", "forget")) {
      if (file.has(key)) {
        file.bad(
            key, "bad-value", "`" + key + "` is about records, and `records: none` keeps none.");
      }
    }
    if (!form.uniques().isEmpty()) {
      file.bad(
          file.has("unique") ? "unique" : "fields",
          "bad-value",
          "Nothing can be unique among records where `records: none` keeps none.");
    }
    if (form.confirmation().isPresent()) {
      file.bad(
          "fields",
          "bad-value",
          "That an address is confirmed is kept with its record, and `records: none` keeps none:"
              + " take `confirm` out.");
    }
    if (form.fields().hasFiles()) {
      file.bad(
          "fields",
          "bad-value",
          "Files are kept with records, and `records: none` keeps none: take the field of type"
              + " file out.");
    }
    file.section("access")
        .ifPresent(
            access -> {
              for (String key : List.of("see", "edit", "remove")) {
                if (access.has(key)) {
                  access.bad(
                      key,
                      "bad-value",
                      "There are no records to " + key + " where `records: none` keeps none.");
                }
              }
            });
  }

  private static Form.Records records(Section file) {
    String[] words =
        Arrays.stream(Form.Records.values()).map(Form.Records::word).toArray(String[]::new);
    Optional<String> word = file.word("records", words);
    return Arrays.stream(Form.Records.values())
        .filter(it -> word.filter(it.word()::equals).isPresent())
        .findFirst()
        .orElse(Form.Records.MANY);
  }

  private String name(Section file) {
    if (!file.has("form")) {
      file.missing("A form file names its form: `form: vessel`.");
      return "";
    }
    Optional<String> name = file.text("form");
    if (name.isPresent() && !name.get().matches(FormKeys.NAME)) {
      file.bad(
          "form",
          "bad-value",
          "A form's name is a small letter, then up to 39 small letters, digits or hyphens.");
      return "";
    }
    if (name.filter(ServiceTexts.NAME::equals).isPresent()) {
      file.bad(
          "form",
          "bad-value",
          "`service` stands for all forms, in themes and texts; give the form another name.");
      return "";
    }
    registry
        .name()
        .filter(expected -> name.isPresent() && !expected.equals(name.get()))
        .ifPresent(
            expected ->
                file.bad(
                    "form",
                    "bad-value",
                    "This file declares form `"
                        + name.get()
                        + "`, but is published as `"
                        + Wellformed.of(expected)
                        + "`."));
    return name.orElse("");
  }

  private Fields fields(Section file, String form) {
    if (!file.has("fields")) {
      file.missing("A form needs `fields`.");
      return Fields.NONE;
    }
    Fields fields =
        new FieldsReader(new ReaderContext(form, errors, registry, names), names, 1)
            .read(file, "fields");
    checkCount(file, "A form", fields);
    for (Form.Placed placed : Form.every(fields)) {
      if (placed.field().type() == Type.ROWS) {
        checkCount(file, "`" + placed.dotted() + "`", placed.field().fields());
      }
    }
    return fields;
  }

  private void checkCount(Section file, String whose, Fields fields) {
    int count = fields.columns().size();
    if (count > MOST_FIELDS) {
      errors.add(
          file.place(),
          file.pointer("fields"),
          "bad-value",
          "%s has at most %d fields that are kept, those in groups too; this has %d. Fields inside rows are counted for themselves."
              .formatted(whose, MOST_FIELDS, count));
    }
  }

  private List<Path> settling(Section file, Fields fields) {
    DependencyOrder.Outcome settled = DependencyOrder.of(fields);
    settled
        .cycle()
        .ifPresent(
            cycle -> {
              Place place =
                  file.section("fields")
                      .flatMap(section -> section.keyPlace(cycle.getFirst().split("\\.")[0]))
                      .orElse(file.place());
              errors.add(
                  place,
                  file.pointer("fields"),
                  "cycle",
                  "Circular dependency: "
                      + String.join(" → ", cycle)
                      + ". Each of these fields is computed from the next, or shown, editable or"
                      + " defaulted by it.");
            });
    return settled.order().stream().map(it -> fields.path(it.path())).toList();
  }

  private Optional<ZoneId> zone(Section file) {
    return file.text("zone")
        .flatMap(
            text -> {
              if (ZONES.contains(text)) {
                return Optional.of(ZoneId.of(text));
              }
              Optional<String> near = Near.to(text, ZONES);
              file.bad(
                  "zone",
                  "bad-value",
                  "`zone` is a name of the time zone database, such as Europe/Lisbon, not \""
                      + Wellformed.of(text)
                      + "\".",
                  near);
              return Optional.empty();
            });
  }

  /** Without {@code called}, the first text of the form names a record. */
  private static Optional<Template> called(Section file, TemplateReader templates) {
    return templates
        .telling(file, "called")
        .or(
            () ->
                templates.fields().stream()
                    .filter(field -> field.type().isWritten() && !field.access().isForSome())
                    .map(field -> new Template("{" + field.name() + "}"))
                    .findFirst());
  }

  private Form.Titles titles(
      Section file, String label, Optional<Template> called, TemplateReader templates) {
    Form.Titles usual =
        new Form.Titles(
            new Template("Add " + label.toLowerCase(Locale.ROOT)),
            new Template("Edit " + called.map(Template::text).orElse(label)),
            label);
    return new TitlesReader(file, templates, errors).read(usual);
  }

  private static Optional<Section> after(Section file) {
    Optional<Section> after = file.section("after");
    after.ifPresent(section -> section.allow(FormKeys.AFTER));
    return after;
  }

  private After after(
      Section after, Mode mode, After usual, Fields fields, TemplateReader templates) {
    Section section = after.section(mode.word()).orElse(null);
    if (section == null) {
      return usual;
    }
    if (mode == Mode.ADD) {
      section.allow(FormKeys.AFTER_ADD);
    } else {
      section.allow(
          FormKeys.AFTER_EDIT.what(),
          FormKeys.AFTER_EDIT.names(),
          key ->
              key.equals("clear")
                  ? Optional.of(
                      "An edit that stays open shows what is kept: only `add` has `clear`.")
                  : Optional.empty());
    }
    return new After(
        go(section, templates).orElse(usual.go()),
        templates.telling(section, "say").orElse(usual.say()),
        clears(section, fields));
  }

  private List<String> clears(Section section, Fields fields) {
    if (section.node("clear").orElse(null) instanceof Node.Sequence(Place _, var items)) {
      List<String> clears = new ArrayList<>();
      items.forEach(item -> clears(section, item, fields, clears));
      return clears;
    }
    boolean none = section.word("clear", "all", "none").filter("none"::equals).isPresent();
    return none ? List.of() : List.copyOf(fields.names());
  }

  private void clears(Section section, Node item, Fields fields, List<String> clears) {
    String name = Section.textOf(item).orElse("");
    String pointer = section.pointer("clear");
    if (clears.contains(name)) {
      errors.add(item.place(), pointer, "duplicate", "Duplicate field `" + name + "`.");
    } else if (fields.names().contains(name)) {
      clears.add(name);
    } else {
      errors.unknown(item.place(), pointer, "field", name, fields.names(), "");
    }
  }

  private static Optional<Template> go(Section section, TemplateReader templates) {
    String go = section.text("go").orElse(null);
    List<String> words = List.of("list", "record", "stay");
    if (go == null || words.contains(go)) {
      return Optional.ofNullable(go).map(Template::new);
    }
    if (isAddress(go)) {
      return templates.address(section, "go");
    }
    Optional<String> near = Near.to(go, words);
    section.bad(
        "go",
        "bad-value",
        "`go` is list, record, stay, a path that begins with /, or an http(s) address.",
        near);
    return Optional.empty();
  }

  /**
   * A path of this site or an absolute http(s) address; never another scheme, never //host. Fields
   * that it names stand behind the host.
   */
  private static boolean isAddress(String go) {
    boolean path = go.matches("/([^/\\\\\\s{][^\\s\\\\]*)?") && !go.startsWith("/{");
    if (!path && !go.matches("https?://[^\\s/{}?#]+([/?#]\\S*)?")) {
      return false;
    }
    String filled = new Template(go).fill(_ -> "x");
    String behindHost = filled.replaceFirst("^https?://[^/?#]+", "");
    return behindHost.matches(REST) && (path || Addresses.isUrl(filled));
  }
}
