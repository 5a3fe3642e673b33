package nodley.core.file;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Control;
import nodley.core.form.Field;
import nodley.core.form.Limits;
import nodley.core.form.Template;
import nodley.core.form.Tidying;
import nodley.core.form.Type;
import nodley.core.line.Literal;
import nodley.core.line.Sentences;
import nodley.core.name.Near;
import nodley.core.name.Words;
import nodley.core.pattern.BadPattern;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Wellformed;

/** The keys of one field. */
final class FieldReader {

  private static final List<String> COMMON =
      List.of("type", "label", "help", "required", "control", "default", "say");

  /** The keys that only some types have. */
  private static final Map<String, Set<Type>> SPECIAL =
      Map.ofEntries(
          Map.entry("placeholder", Set.of(Type.TEXT, Type.EMAIL, Type.INTEGER, Type.DECIMAL)),
          Map.entry("unit", Set.of(Type.TEXT, Type.INTEGER, Type.DECIMAL)),
          Map.entry("multiline", Set.of(Type.TEXT)),
          Map.entry("tidy", Set.of(Type.TEXT, Type.EMAIL)),
          Map.entry("keep", Set.of(Type.TEXT, Type.EMAIL)),
          Map.entry("length", Set.of(Type.TEXT, Type.EMAIL)),
          Map.entry("pattern", Set.of(Type.TEXT, Type.EMAIL)),
          Map.entry("range", Set.of(Type.INTEGER, Type.DECIMAL, Type.DATE)),
          Map.entry("step", Set.of(Type.INTEGER, Type.DECIMAL)),
          Map.entry("options", Set.of(Type.CHOICE)),
          Map.entry("form", Set.of(Type.RECORD)),
          Map.entry(
              "unique",
              Set.of(
                  Type.TEXT,
                  Type.EMAIL,
                  Type.INTEGER,
                  Type.DECIMAL,
                  Type.DATE,
                  Type.CHOICE,
                  Type.RECORD)));

  /** Up to this many options are shown at once as radio buttons. */
  private static final int MAX_RADIO = 4;

  private final String form;
  private final String name;
  private final Section keys;
  private final Errors errors;
  private final Surroundings surroundings;

  FieldReader(String form, String name, Section keys, Errors errors, Surroundings surroundings) {
    this.form = form;
    this.name = name;
    this.keys = keys;
    this.errors = errors;
    this.surroundings = surroundings;
  }

  Optional<Field> read() {
    Optional<Type> type = type();
    if (type.isEmpty()) {
      Set<String> all = new LinkedHashSet<>(COMMON);
      all.addAll(SPECIAL.keySet());
      keys.allow("A field", all);
      return Optional.empty();
    }
    return Optional.of(read(type.get()));
  }

  private Optional<Type> type() {
    if (!keys.has("type")) {
      keys.missing("`" + name + "` needs a `type`: " + String.join(", ", Type.words()) + ".");
      return Optional.empty();
    }
    return keys.word("type", Type.words().toArray(String[]::new)).flatMap(Type::of);
  }

  private Field read(Type type) {
    List<String> allowed = new ArrayList<>(COMMON);
    SPECIAL.forEach(
        (key, types) -> {
          if (types.contains(type)) {
            allowed.add(key);
          }
        });
    keys.allow("A field of type " + type.word(), allowed, key -> notForThis(key, type));
    boolean multiline = type == Type.TEXT && keys.bool("multiline").orElse(false);
    Limits limits = new LimitsReader(keys).read(type);
    List<Field.Choice> options =
        type == Type.CHOICE ? new OptionsReader(keys, errors).read() : List.of();
    Field field =
        new Field(
            name,
            type,
            control(type, multiline, options.size()),
            new Field.Wording(
                keys.text("label").orElse(Words.of(name)),
                keys.text("help").orElse(""),
                has("placeholder", type) ? keys.text("placeholder").orElse("") : "",
                has("unit", type) ? keys.text("unit").orElse("") : ""),
            Optional.empty(),
            keys.bool("required").orElse(false),
            tidying(type, multiline),
            limits,
            options,
            has("unique", type) ? unique(type) : Optional.empty(),
            type == Type.RECORD ? refersTo() : Optional.empty(),
            say());
    return withDefault(field);
  }

  private boolean has(String key, Type type) {
    return SPECIAL.get(key).contains(type);
  }

  private static Optional<String> notForThis(String key, Type type) {
    if (!SPECIAL.containsKey(key)) {
      return Optional.empty();
    }
    String instead =
        switch (key) {
          case "length" -> type.isNumber() ? " `range` limits a number." : "";
          case "range" -> type.isWritten() ? " `length` limits a text." : "";
          case "options" -> type == Type.TEXT ? " A field with options is a choice." : "";
          default -> "";
        };
    return Optional.of("`" + key + "` does not go with type " + type.word() + "." + instead);
  }

  private Control control(Type type, boolean multiline, int options) {
    Control usual =
        multiline
            ? Control.TEXTAREA
            : type == Type.CHOICE && options > MAX_RADIO
                ? Control.SELECT
                : type.controls().getFirst();
    String[] words = type.controls().stream().map(Control::word).toArray(String[]::new);
    return keys.word("control", words)
        .flatMap(word -> type.controls().stream().filter(it -> it.word().equals(word)).findFirst())
        .orElse(usual);
  }

  private Tidying tidying(Type type, boolean multiline) {
    if (!type.isWritten()) {
      return Tidying.TRIM;
    }
    Set<String> steps = new LinkedHashSet<>();
    List<Node> written = keys.items("tidy").orElse(null);
    if (written == null) {
      steps.add("trim");
    } else {
      written.forEach(node -> step(node, steps));
      // Trimming goes without saying, unless nothing at all is to be tidied.
      if (!written.isEmpty()) {
        steps.add("trim");
      }
    }
    if (steps.contains("lower") && steps.contains("upper")) {
      keys.bad("tidy", "bad-value", "`tidy` cannot have both lower and upper.");
    }
    Tidying.Case letters =
        steps.contains("lower")
            ? Tidying.Case.LOWER
            : steps.contains("upper") ? Tidying.Case.UPPER : Tidying.Case.AS_TYPED;
    return new Tidying(
        steps.contains("trim"), steps.contains("squeeze"), letters, multiline, keep());
  }

  private void step(Node node, Set<String> steps) {
    List<String> known = List.of("trim", "squeeze", "lower", "upper");
    String step = Section.textOf(node).orElse("");
    if (!known.contains(step)) {
      Optional<String> near = Near.to(step, known);
      errors.add(
          node.place(),
          keys.pointer("tidy"),
          "bad-value",
          "`tidy` knows " + String.join(", ", known) + ", not \"" + Wellformed.of(step) + "\".",
          near);
    } else {
      steps.add(step);
    }
  }

  private Optional<Tidying.Keep> keep() {
    return keys.text("keep")
        .flatMap(
            characters -> {
              try {
                return Optional.of(
                    new Tidying.Keep(characters, IRegexp.of("[" + characters + "]")));
              } catch (BadPattern e) {
                keys.bad(
                    "keep",
                    "bad-value",
                    "`keep` lists characters and ranges, such as A-Za-z0-9: "
                        + e.getMessage()
                        + ".");
                return Optional.empty();
              }
            });
  }

  private Optional<Field.Unique> unique(Type type) {
    Node node = keys.node("unique").orElse(null);
    if (!(node instanceof Node.Mapping)) {
      return node != null && keys.bool("unique").orElse(false)
          ? Optional.of(new Field.Unique(false))
          : Optional.empty();
    }
    return keys.section("unique")
        .map(
            section -> {
              section.allow(
                  "`unique`", type.isWritten() ? List.of("ignore-case") : List.<String>of());
              // {ignore-case} alone is YAML for a key without a value, and says enough.
              boolean alone =
                  section.node("ignore-case").orElse(null) instanceof Node.Scalar scalar
                      && scalar.sort() == Node.Scalar.Sort.NULL;
              return new Field.Unique(alone || section.bool("ignore-case").orElse(false));
            });
  }

  private Optional<String> refersTo() {
    if (!keys.has("form")) {
      keys.missing("A record field names the form that it refers to: `form: berth`.");
      return Optional.empty();
    }
    Optional<String> other = keys.text("form");
    Set<String> known = surroundings.forms().orElse(null);
    if (other.isPresent()
        && known != null
        && !known.contains(other.get())
        && !other.get().equals(form)) {
      Optional<String> near = Near.to(other.get(), known);
      keys.bad(
          "form",
          "unknown-name",
          "There is no form `"
              + Wellformed.of(other.get())
              + "`."
              + near.map(it -> " Did you mean `" + it + "`?").orElse(" Publish it first."),
          near);
      return Optional.empty();
    }
    return other;
  }

  private Map<String, String> say() {
    Map<String, String> say = new LinkedHashMap<>();
    Section section = keys.section("say").orElse(null);
    if (section == null) {
      return say;
    }
    section.allow("`say`", Sentences.KEYS);
    for (Node.Entry entry : section.entries()) {
      Optional<String> text = section.text(entry.key());
      List<String> unknown =
          text.map(it -> new Template(it).names()).orElse(List.of()).stream()
              .filter(argument -> !Sentences.ARGUMENTS.contains(argument))
              .toList();
      if (unknown.isEmpty()) {
        text.ifPresent(it -> say.put(entry.key(), it));
      } else {
        section.bad(
            entry.key(),
            "bad-text",
            "A sentence has no {"
                + Wellformed.of(unknown.getFirst())
                + "}; it has {"
                + String.join("}, {", Sentences.ARGUMENTS)
                + "}.",
            Near.to(unknown.getFirst(), Sentences.ARGUMENTS));
      }
    }
    return say;
  }

  /** A first value must itself be one that the field accepts. */
  private Field withDefault(Field field) {
    Node node = keys.node("default").orElse(null);
    if (node == null) {
      return field;
    }
    if (!(node instanceof Node.Scalar scalar) || scalar.sort() == Node.Scalar.Sort.NULL) {
      keys.wrongType("default", node, "one value");
      return field;
    }
    if (field.type() == Type.RECORD) {
      keys.bad("default", "bad-value", "A reference to a record has no default.");
      return field;
    }
    Literal literal = Literal.read(field, scalar.text());
    literal.fault().ifPresent(fault -> keys.bad("default", "bad-value", fault));
    return literal.fault().isPresent() ? field : field.startingWith(literal.value());
  }
}
