package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import nodley.core.form.Access;
import nodley.core.form.After;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Template;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.name.Words;
import nodley.core.value.Wellformed;

/** The keys of a form. */
final class FormReader {

  private static final List<String> KEYS =
      List.of("form", "title", "called", "access", "fields", "after");
  private static final String NAME = "[a-z][a-z0-9-]{0,39}";
  private static final String FIELD_NAME = "[a-z][A-Za-z0-9]{0,39}";

  /** Nodley's own, JavaScript's, and the two that SQLite keeps for the number of a row. */
  private static final Set<String> BARRED =
      Set.of("id", "form", "version", "revision", "constructor", "prototype", "rowid", "oid");

  private final Errors errors;
  private final Surroundings surroundings;

  FormReader(Errors errors, Surroundings surroundings) {
    this.errors = errors;
    this.surroundings = surroundings;
  }

  Form read(Node tree) throws FormFileException {
    Section file = Section.of(tree, "#", "A form file", errors).orElse(null);
    if (file == null) {
      throw errors.thrown();
    }
    file.allow("A form", KEYS);
    String name = name(file);
    String label = name.isEmpty() ? "" : Words.of(name);
    Map<String, Field> fields = fields(file, name);
    Optional<Template> called = called(file, fields);
    Optional<Section> after = after(file);
    After added = new After("record", new Template(label + " added."));
    After saved = new After("record", new Template("Changes saved."));
    Form form =
        new Form(
            name,
            label,
            titles(file, label, called, fields),
            called,
            access(file),
            after.map(section -> after(section, Mode.ADD, added, fields)).orElse(added),
            after.map(section -> after(section, Mode.EDIT, saved, fields)).orElse(saved),
            fields);
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return form;
  }

  private String name(Section file) {
    if (!file.has("form")) {
      file.missing("A form file names its form: `form: vessel`.");
      return "";
    }
    Optional<String> name = file.text("form");
    if (name.isPresent() && !name.get().matches(NAME)) {
      file.bad(
          "form",
          "bad-value",
          "A form's name is a small letter, then up to 39 small letters, digits or hyphens.");
      return "";
    }
    surroundings
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

  private Map<String, Field> fields(Section file, String form) {
    Map<String, Field> fields = new LinkedHashMap<>();
    if (!file.has("fields")) {
      file.missing("A form needs `fields`.");
      return fields;
    }
    Section section = file.section("fields").orElse(null);
    if (section == null) {
      return fields;
    }
    if (section.entries().isEmpty()) {
      file.bad("fields", "bad-value", "A form needs at least one field.");
    }
    Map<String, String> ignoringCase = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
    for (Node.Entry entry : section.entries()) {
      String name = entry.key();
      String pointer = section.pointer(name);
      if (!name.matches(FIELD_NAME) || BARRED.contains(name)) {
        errors.add(entry.place(), pointer, "bad-value", badName(name));
      }
      String neighbour = ignoringCase.putIfAbsent(name, name);
      if (neighbour != null && !neighbour.equals(name)) {
        errors.add(
            entry.place(),
            pointer,
            "duplicate",
            "`" + name + "` and `" + neighbour + "` differ only in their case.");
      }
      Section.of(entry.value(), pointer, "A field", errors)
          .flatMap(keys -> new FieldReader(form, name, keys, errors, surroundings).read())
          .ifPresent(field -> fields.put(name, field));
    }
    return fields;
  }

  private static String badName(String name) {
    return BARRED.contains(name)
        ? "`" + name + "` is a name that is in use already; choose another."
        : "A field's name is a small letter, then up to 39 letters or digits, not \""
            + Wellformed.of(name)
            + "\".";
  }

  /** Without {@code called}, the first text of the form names a record. */
  private Optional<Template> called(Section file, Map<String, Field> fields) {
    Optional<Template> written =
        file.text("called").map(Template::new).filter(it -> checked(file, "called", it, fields));
    return written.or(
        () ->
            fields.values().stream()
                .filter(field -> field.type().isWritten())
                .map(field -> new Template("{" + field.name() + "}"))
                .findFirst());
  }

  private Form.Titles titles(
      Section file, String label, Optional<Template> called, Map<String, Field> fields) {
    Template add = new Template("Add " + label.toLowerCase(Locale.ROOT));
    Template edit = new Template("Edit " + called.map(Template::text).orElse(label));
    String list = label;
    Optional<Node> node = file.node("title");
    if (node.isEmpty()) {
      return new Form.Titles(add, edit, list);
    }
    if (Section.textOf(node.get()).isPresent()) {
      Template both = new Template(Section.textOf(node.get()).get());
      checkTitle(file, "title", both);
      return new Form.Titles(both, both, both.text());
    }
    Section title = Section.of(node.get(), "#/title", "`title`", errors).orElse(null);
    if (title == null) {
      return new Form.Titles(add, edit, list);
    }
    title.allow("`title`", List.of("add", "edit", "list"));
    Optional<Template> ownAdd = title.text("add").map(Template::new);
    Optional<Template> ownEdit = title.text("edit").map(Template::new);
    Optional<String> ownList = title.text("list");
    ownAdd.ifPresent(template -> checkTitle(title, "add", template));
    ownEdit = ownEdit.filter(template -> checked(title, "edit", template, fields));
    ownList.map(Template::new).ifPresent(template -> checkTitle(title, "list", template));
    return new Form.Titles(ownAdd.orElse(add), ownEdit.orElse(edit), ownList.orElse(list));
  }

  /** A title that stands where there is no record yet cannot name a field. */
  private void checkTitle(Section section, String key, Template template) {
    if (!template.names().isEmpty()) {
      section.bad(
          key,
          "bad-text",
          "This title also stands where there is no record, so it cannot have {"
              + Wellformed.of(template.names().getFirst())
              + "} in it; only `edit` can.");
    }
  }

  private boolean checked(
      Section section, String key, Template template, Map<String, Field> fields) {
    for (String path : template.names()) {
      Field field = fields.get(path);
      if (field == null) {
        Optional<String> near = Near.to(path, fields.keySet());
        section.bad(
            key,
            "unknown-name",
            "The form has no field `"
                + Wellformed.of(path)
                + "`."
                + near.map(other -> " Did you mean `" + other + "`?").orElse(""),
            near);
        return false;
      }
      if (field.type() == Type.RECORD) {
        section.bad(key, "bad-text", "`" + path + "` is a reference and has no text of its own.");
        return false;
      }
    }
    return true;
  }

  private Access access(Section file) {
    Section section = file.section("access").orElse(null);
    if (section == null) {
      return Access.SIGNED_IN;
    }
    section.allow("`access`", List.of("add", "see", "edit", "remove"));
    Access.Who edit = who(section, "edit", Access.Who.SIGNED_IN);
    return new Access(
        who(section, "add", Access.Who.SIGNED_IN),
        who(section, "see", Access.Who.SIGNED_IN),
        edit,
        who(section, "remove", edit));
  }

  private static Access.Who who(Section section, String key, Access.Who otherwise) {
    return section
        .word(key, Access.Who.ANYONE.word(), Access.Who.SIGNED_IN.word())
        .map(word -> word.equals("anyone") ? Access.Who.ANYONE : Access.Who.SIGNED_IN)
        .orElse(otherwise);
  }

  private static Optional<Section> after(Section file) {
    Optional<Section> after = file.section("after");
    after.ifPresent(section -> section.allow("`after`", List.of("add", "edit")));
    return after;
  }

  private After after(Section after, Mode mode, After usual, Map<String, Field> fields) {
    Section section = after.section(mode.word()).orElse(null);
    if (section == null) {
      return usual;
    }
    section.allow("`after` of a mode", List.of("go", "say"));
    Optional<Template> say =
        section.text("say").map(Template::new).filter(it -> checked(section, "say", it, fields));
    return new After(go(section).orElse(usual.go()), say.orElse(usual.say()));
  }

  private static Optional<String> go(Section section) {
    Optional<String> go = section.text("go");
    List<String> words = List.of("list", "record", "stay");
    if (go.isEmpty() || words.contains(go.get()) || isAddress(go.get())) {
      return go;
    }
    Optional<String> near = Near.to(go.get(), words);
    section.bad(
        "go",
        "bad-value",
        "`go` is list, record, stay, a path that begins with /, or an http(s) address.",
        near);
    return Optional.empty();
  }

  /** A path of this site or an absolute http(s) address; never another scheme, never //host. */
  private static boolean isAddress(String go) {
    return go.matches("/([^/\\\\\\s][^\\s\\\\]*)?") || go.matches("https?://[^\\s/]+(/\\S*)?");
  }
}
