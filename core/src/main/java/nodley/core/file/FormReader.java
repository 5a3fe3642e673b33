package nodley.core.file;

import java.time.ZoneId;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Access;
import nodley.core.form.After;
import nodley.core.form.Field;
import nodley.core.form.Fields;
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
      List.of("form", "title", "called", "zone", "access", "fields", "rules", "after");
  private static final String NAME = "[a-z][a-z0-9-]{0,39}";
  private static final Set<String> ZONES = ZoneId.getAvailableZoneIds();

  private final Errors errors;
  private final Surroundings surroundings;
  private Skeleton names;
  private String name = "";

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
    name = name(file);
    String label = name.isEmpty() ? "" : Words.of(name);
    names =
        Skeleton.of(
            name,
            file.node("fields").orElseGet(() -> new Node.Mapping(tree.place(), List.of())),
            surroundings);
    Fields fields = fields(file, name);
    Optional<Template> called = called(file, fields);
    Optional<Section> after = after(file);
    After added = new After("record", new Template(label + " added."));
    After saved = new After("record", new Template("Changes saved."));
    Form form =
        new Form(
            name,
            label,
            Locale.ENGLISH,
            titles(file, label, called, fields),
            called,
            zone(file),
            access(file),
            after.map(section -> after(section, Mode.ADD, added, fields)).orElse(added),
            after.map(section -> after(section, Mode.EDIT, saved, fields)).orElse(saved),
            fields,
            new RuleReader(file, new Reach(name, errors, surroundings, names), names).read(),
            settling(file, fields));
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

  private Fields fields(Section file, String form) {
    if (!file.has("fields")) {
      file.missing("A form needs `fields`.");
      return Fields.NONE;
    }
    return new FieldsReader(new Reach(form, errors, surroundings, names), names, 1)
        .read(file, "fields");
  }

  private List<Form.Placed> settling(Section file, Fields fields) {
    Settling.Outcome settled = Settling.of(fields);
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
                  "These fields wait for each other: " + String.join(" → ", cycle) + ".");
            });
    return settled.order();
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
  private Optional<Template> called(Section file, Fields fields) {
    Optional<Template> written =
        file.text("called").map(Template::new).filter(it -> checked(file, "called", it, fields));
    return written.or(
        () ->
            fields.stream()
                .filter(field -> field.type().isWritten())
                .map(field -> new Template("{" + field.name() + "}"))
                .findFirst());
  }

  private Form.Titles titles(Section file, String label, Optional<Template> called, Fields fields) {
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

  private boolean checked(Section section, String key, Template template, Fields fields) {
    for (String path : template.names()) {
      Optional<String> wrong = wrong(path, fields);
      if (wrong.isPresent()) {
        Optional<String> near = Near.to(path, fields.names());
        boolean unknown = fields.find(path.split("\\.")[0]).isEmpty();
        section.bad(
            key,
            unknown ? "unknown-name" : "bad-text",
            wrong.get() + (unknown ? near.map(it -> " Did you mean `" + it + "`?").orElse("") : ""),
            unknown ? near : Optional.empty());
        return false;
      }
    }
    return true;
  }

  /** Why a path has no text of its own; through a reference, as far as the other form is known. */
  private Optional<String> wrong(String path, Fields fields) {
    Fields here = fields;
    String[] parts = path.split("\\.", -1);
    for (int i = 0; i < parts.length; i++) {
      Field field = here.find(parts[i]).orElse(null);
      if (field == null) {
        return Optional.of("There is no field `" + Wellformed.of(path) + "`.");
      }
      boolean last = i == parts.length - 1;
      if (field.isSecret()) {
        return Optional.of("`" + path + "` is a secret, and is never told.");
      }
      if (last) {
        return Optional.empty();
      }
      if (field.refersTo().isPresent() && !field.refersTo().get().equals(name)) {
        Optional<Form> other = surroundings.form(field.refersTo().get());
        if (other.isEmpty()) {
          return Optional.empty();
        }
        here = other.get().fields();
      } else if (field.refersTo().isPresent()) {
        here = fields;
      } else if (field.type() == Type.GROUP) {
        here = field.fields();
      } else {
        return Optional.of("There is nothing behind `" + parts[i] + "` in `" + path + "`.");
      }
    }
    return Optional.empty();
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

  private After after(Section after, Mode mode, After usual, Fields fields) {
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
