package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.SourceColumn;
import nodley.core.form.Type;
import nodley.core.form.Unique;

/** Reads uniqueness: {@code unique} of a field, and of several fields at the form. */
final class UniqueReader {

  private static final Set<Type> NEVER =
      EnumSet.of(Type.GROUP, Type.ROWS, Type.FILE, Type.SECRET, Type.CHOICES);

  private final Section keys;
  private final Errors errors;
  private final SymbolTable names;
  private final FormRegistry registry;

  UniqueReader(Section keys, Errors errors, SymbolTable names, FormRegistry registry) {
    this.registry = registry;
    this.keys = keys;
    this.errors = errors;
    this.names = names;
  }

  /** That of a field; its paths begin at the fields beside it. */
  Optional<Unique> ofField(String name, Type type) {
    Node node = keys.node("unique").orElse(null);
    if (!(node instanceof Node.Mapping)) {
      return node != null && keys.bool("unique").orElse(false)
          ? Optional.of(unique(List.of(List.of(name)), List.of(name), false))
          : Optional.empty();
    }
    return keys.section("unique").map(section -> ofField(section, name, type));
  }

  private static Unique unique(List<List<String>> paths, List<String> at, boolean ignoreCase) {
    return new Unique(
        List.of(),
        paths,
        at,
        false,
        ignoreCase,
        Optional.empty(),
        true,
        false,
        false,
        Optional.empty());
  }

  private Unique ofField(Section section, String name, Type type) {
    KeySet keys = FieldKeys.unique(type);
    List<String> known = new ArrayList<>(keys.names());
    if (!type.isWritten() && !section.has("within")) {
      known.remove("ignore-case");
    }
    section.allow(keys.what(), known);
    List<List<String>> paths = new ArrayList<>();
    for (List<String> path : paths(section, "within")) {
      if (path.equals(List.of(name))) {
        section.bad("within", "bad-value", "`within` names other fields than the field itself.");
      } else {
        paths.add(path);
      }
    }
    paths.add(List.of(name));
    return new Unique(
        List.of(),
        List.copyOf(paths),
        List.of(name),
        false,
        ignoresCase(section),
        when(section),
        section.bool("early").orElse(true),
        section.bool("hold").orElse(false),
        section.bool("alternatives").orElse(false),
        in(section));
  }

  /** Nobody there is to have the value either. */
  private Optional<SourceColumn> in(Section section) {
    if (section.has("in") && section.has("within")) {
      section.bad(
          "in", "bad-value", "`in` is about the value alone; `within` has others beside it.");
    }
    return section.has("in")
        ? new SourceColumnReader(section, registry).column("in")
        : Optional.empty();
  }

  /** {ignore-case} alone is YAML for a key without a value, and says enough. */
  private static boolean ignoresCase(Section section) {
    boolean alone =
        section.node("ignore-case").orElse(null) instanceof Node.Scalar scalar
            && scalar.type() == Node.Scalar.ScalarType.NULL;
    return alone || section.bool("ignore-case").orElse(false);
  }

  /** What an index can be kept by: the record's own values, whoever asks and whenever. */
  private Optional<Expression> when(Section section) {
    Optional<Expression> when =
        new Expressions(section, errors, names)
            .of("when", ExpressionType.of(ExpressionType.Base.BOOLEAN));
    boolean own = when.filter(it -> it.asksBeyond() || it.readsClock() || it.readsMode()).isEmpty();
    if (!own) {
      section.bad(
          "when",
          "bad-value",
          "`when` looks only at the record's own values: not at other records, who sends, the"
              + " clock, or the mode.");
      return Optional.empty();
    }
    return when;
  }

  /** Those over several fields of the form. */
  private List<Unique> ofForm() {
    List<Unique> found = new ArrayList<>();
    int index = 0;
    for (Node item : keys.items("unique").orElse(List.of())) {
      Section.of(item, keys.pointer("unique") + "/" + index++, "A `unique`", errors)
          .flatMap(this::together)
          .ifPresent(found::add);
    }
    return found;
  }

  private Optional<Unique> together(Section section) {
    section.allow(FormKeys.UNIQUE);
    if (!section.has("fields")) {
      section.missing(
          "A `unique` of the form names the fields that are unique together:"
              + " { fields: [vessel, arrives] }.");
      return Optional.empty();
    }
    List<List<String>> paths = paths(section, "fields");
    if (paths.isEmpty()) {
      return Optional.empty();
    }
    List<String> at =
        section
            .text("at")
            .map(it -> Arrays.asList(it.split("\\.", -1)))
            .orElseGet(
                () ->
                    paths.reversed().stream()
                        .filter(this::isOnPages)
                        .findFirst()
                        .orElse(paths.getLast()));
    if (!paths.contains(at)) {
      section.bad("at", "bad-value", "`at` is one of the fields that are unique together.");
      return Optional.empty();
    }
    if (!isOnPages(at)) {
      section.bad(
          section.has("at") ? "at" : "fields",
          "bad-value",
          "An error of uniqueness stands at a field that pages have, not at one with `control:"
              + " none`.");
    }
    return Optional.of(
        new Unique(
            List.of(),
            paths,
            at,
            true,
            ignoresCase(section),
            when(section),
            section.bool("early").orElse(true),
            section.bool("hold").orElse(false),
            false,
            Optional.empty()));
  }

  private List<List<String>> paths(Section section, String key) {
    return new FieldPaths(
            errors, names, type -> !NEVER.contains(type), "be unique together with others")
        .read(section, key);
  }

  private boolean isOnPages(List<String> path) {
    Names here = names;
    for (String name : path.subList(0, path.size() - 1)) {
      here = here.find(name).flatMap(Names.Found::inside).orElse(Names.NONE);
    }
    return here.find(path.getLast()).filter(it -> !it.onPages()).isEmpty();
  }

  /** All of a form: those of its fields, however deep, with their paths from the rows around. */
  List<Unique> all(Fields fields) {
    List<Unique> found = new ArrayList<>();
    collect(fields, List.of(), List.of(), found);
    for (Unique unique : ofForm()) {
      if (found.stream().anyMatch(it -> it.rows().isEmpty() && it.name().equals(unique.name()))) {
        keys.bad(
            "unique",
            "duplicate",
            "`" + unique.name().replace("+", "`, `") + "` is declared unique twice.");
      }
      found.add(unique);
    }
    found.forEach(unique -> checkKept(unique, fields));
    return found;
  }

  /** An index is over what a record keeps. */
  private void checkKept(Unique unique, Fields fields) {
    for (List<String> path : unique.paths()) {
      if (fields
          .find(FieldPaths.join(unique.rows(), path))
          .filter(it -> !it.isKept())
          .isPresent()) {
        keys.bad(
            keys.has("unique") ? "unique" : "fields",
            "bad-value",
            "`" + String.join(".", path) + "` is not kept, so it cannot be unique with others.");
      }
    }
  }

  private static void collect(
      Fields fields, List<String> rows, List<String> groups, List<Unique> found) {
    for (Field field : fields) {
      field
          .unique()
          .filter(_ -> field.isKept())
          .ifPresent(
              it ->
                  found.add(
                      new Unique(
                          rows,
                          it.paths().stream().map(path -> FieldPaths.join(groups, path)).toList(),
                          FieldPaths.join(groups, it.at()),
                          false,
                          it.ignoreCase(),
                          it.when(),
                          it.early(),
                          it.hold(),
                          it.alternatives(),
                          it.in())));
      List<String> here = FieldPaths.join(groups, List.of(field.name()));
      if (field.type() == Type.GROUP) {
        collect(field.fields(), rows, here, found);
      } else if (field.type() == Type.ROWS) {
        collect(field.fields(), FieldPaths.join(rows, here), List.of(), found);
      }
    }
  }
}
