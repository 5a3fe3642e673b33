package nodley.core.file;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Checking;
import nodley.core.form.Condition;
import nodley.core.form.Control;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.FieldAccess;
import nodley.core.form.Fields;
import nodley.core.form.Options;
import nodley.core.form.Rule;
import nodley.core.form.Sentence;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.name.Words;

/**
 * Reads the keys of one field, and with them the fields inside a group or row. Each part of a field
 * has a reader of its own (limits, options, tidying, uniqueness, messages); this one puts together
 * what they return. Errors are collected and not thrown, so that all of a file's errors are told at
 * once.
 */
final class FieldReader {

  /** Up to this many options are shown at once as radio buttons. */
  private static final int MAX_RADIO = 4;

  /** Groups and rows are at most so deep inside each other. */
  private static final int MAX_DEPTH = 4;

  private final String name;
  private final Section keys;
  private final ReaderContext reach;
  private final Errors errors;
  private final SymbolTable names;
  private final int depth;

  FieldReader(String name, Section keys, ReaderContext reach, SymbolTable names, int depth) {
    this.name = name;
    this.keys = keys;
    this.reach = reach;
    this.errors = reach.errors();
    this.names = names;
    this.depth = depth;
  }

  Optional<Field> read() {
    Optional<Type> type = type();
    if (type.isEmpty()) {
      keys.allow("A field", FieldKeys.all());
      return Optional.empty();
    }
    return Optional.of(read(type.get()));
  }

  private Optional<Type> type() {
    if (!keys.has("type") && keys.has("use")) {
      return Optional.of(Type.GROUP);
    }
    if (!keys.has("type")) {
      keys.missing("`" + name + "` needs a `type`: " + String.join(", ", Type.words()) + ".");
      return Optional.empty();
    }
    return keys.word("type", Type.words().toArray(String[]::new)).flatMap(Type::of);
  }

  private Field read(Type type) {
    KeySet known = FieldKeys.of(type);
    keys.allow(known.what(), known.names(), key -> FieldKeys.notForThis(key, type));
    boolean multiline = type == Type.TEXT && keys.bool("multiline").orElse(false);
    Optional<String> refersTo = type == Type.RECORD ? refersTo() : Optional.empty();
    Options options =
        FieldKeys.has("options", type)
            ? new OptionsReader(keys, errors, reach.registry(), names).read(type, refersTo)
            : Options.NONE;
    Expressions expressions = new Expressions(keys, errors, names);
    Map<String, Sentence> say = new SayReader(keys, errors, reach.root()).all();
    List<Rule> rules = new RuleReader(keys, reach, names).read();
    Field.Presence presence =
        new Field.Presence(
            expressions.condition("required", false),
            expressions.condition("shown", true),
            expressions.condition("editable", true));
    Field field =
        Field.builder(name, type)
            .control(control(type, multiline, options))
            .wording(
                new Field.Wording(
                    keys.text("label").orElse(Words.of(name)),
                    keys.text("help").orElse(""),
                    optional("placeholder", type),
                    optional("unit", type),
                    optional("add", type)))
            .checking(checking(type))
            .presence(presence)
            .tidying(new TidyReader(keys, errors).read(type, multiline))
            .limits(new LimitsReader(keys, errors).read(type))
            .options(options)
            .unique(
                FieldKeys.has("unique", type)
                    ? new UniqueReader(keys, errors, names, reach.registry()).ofField(name, type)
                    : Optional.empty())
            .ask(
                FieldKeys.has("ask", type)
                    ? new AskReader(keys, errors, names, reach.registry()).ofField(name)
                    : Optional.empty())
            .exists(
                FieldKeys.has("exists", type)
                    ? keys.node("exists")
                        .flatMap(
                            _ -> new SourceColumnReader(keys, reach.registry()).column("exists"))
                    : Optional.empty())
            .confirm(
                FieldKeys.has("confirm", type)
                    ? new ConfirmReader(keys, reach.registry()).ofField(name)
                    : Optional.empty())
            .refersTo(refersTo)
            .repeats(FieldKeys.has("repeats", type) ? repeats(type) : Optional.empty())
            .rules(rules)
            .say(say)
            .fields(fields(type))
            .access(FieldKeys.has("see", type) ? AccessReader.ofField(keys) : FieldAccess.ALL)
            .build();
    checkForSome(field);
    checkSlider(field);
    Field.Source source = new SourceReader(keys, errors, names).read(field);
    checkUnseen(field);
    return from(field, source);
  }

  /** An error tells of a value, and an address would fill in what its reader may not know. */
  private void checkForSome(Field field) {
    if (!field.access().isForSome()) {
      return;
    }
    for (String key : List.of("unique", "ask", "exists", "repeats", "prefill", "rules")) {
      if (keys.has(key)) {
        keys.bad(
            key,
            "bad-value",
            "`"
                + key
                + "` is not allowed with `see`: it would tell of the value to those who may not see"
                + " it.");
      }
    }
  }

  /** What nobody handles comes from the service, or from nowhere. */
  private void checkUnseen(Field field) {
    if (field.isOnPages()) {
      return;
    }
    if (!keys.has("default") && !keys.has("compute")) {
      keys.bad(
          "control",
          "bad-value",
          "With `control: none` the service sets the value: it needs a `default` or a `compute`.");
    }
    for (String key :
        List.of(
            "editable",
            "suggest",
            "prefill",
            "repeats",
            "unique",
            "ask",
            "exists",
            "confirm",
            "rules")) {
      if (keys.has(key)) {
        keys.bad(
            key,
            "bad-value",
            "`" + key + "` is not allowed with `control: none`: no page shows the field.");
      }
    }
  }

  private static Field from(Field field, Field.Source source) {
    Field.Presence presence =
        source.compute().isPresent() || !field.isOnPages()
            ? new Field.Presence(
                field.presence().required(), field.presence().shown(), Condition.NEVER)
            : field.presence();
    return field.toBuilder().source(source).presence(presence).build();
  }

  private void checkSlider(Field field) {
    Span<End> range = field.limits().range();
    if (field.control() == Control.SLIDER && (range.min().isEmpty() || range.max().isEmpty())) {
      keys.bad("control", "bad-value", "A slider needs both ends of a range: `range: 0..100`.");
    }
  }

  private Checking checking(Type type) {
    String[] words = Arrays.stream(Checking.values()).map(Checking::word).toArray(String[]::new);
    return FieldKeys.has("check", type)
        ? keys.word("check", words).flatMap(Checking::of).orElse(Checking.LEAVING)
        : Checking.LEAVING;
  }

  private String optional(String key, Type type) {
    return FieldKeys.has(key, type) ? keys.text(key).orElse("") : "";
  }

  private Control control(Type type, boolean multiline, Options offered) {
    if (offered.source().isPresent()) {
      keys.word("control", Control.SEARCH.word());
      return Control.SEARCH;
    }
    int options = offered.choices().size();
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

  private Optional<String> refersTo() {
    if (!keys.has("form")) {
      keys.missing("A record field names the form that it refers to: `form: berth`.");
      return Optional.empty();
    }
    Optional<String> other = keys.text("form");
    FormRegistry registry = reach.registry();
    if (other.isPresent() && !other.get().equals(reach.form()) && registry.lacksForm(other.get())) {
      keys.unpublished("form", "form", other.get(), registry.formNames());
      return Optional.empty();
    }
    return other;
  }

  /** The neighbour that is typed twice has the same type, and does not itself repeat. */
  private Optional<String> repeats(Type type) {
    Optional<String> other = keys.text("repeats");
    if (other.isEmpty()) {
      return other;
    }
    Type found = names.type(other.get()).orElse(null);
    if (found == null || other.get().equals(name)) {
      List<String> others = names.all().stream().filter(it -> !it.equals(name)).toList();
      keys.unknown("repeats", "field", other.get(), others);
      return Optional.empty();
    }
    if (found != type) {
      keys.bad(
          "repeats",
          "bad-value",
          "`" + other.get() + "` is of type " + found.word() + "; what repeats it must be too.");
      return Optional.empty();
    }
    return other;
  }

  private Fields fields(Type type) {
    if (type.isScalar()) {
      return Fields.NONE;
    }
    if (depth > MAX_DEPTH) {
      keys.bad(
          "type", "bad-value", "Groups and rows are at most " + MAX_DEPTH + " deep in each other.");
      return Fields.NONE;
    }
    SymbolTable inside = names.inside(name);
    FieldsReader reader = new FieldsReader(reach, inside, depth + 1);
    if (keys.has("use")) {
      return used(inside);
    }
    if (!keys.has("fields")) {
      keys.missing(
          (type == Type.GROUP ? "A group needs `fields`" : "Rows need `fields`")
              + ", or a part: `use: contact`.");
      return Fields.NONE;
    }
    return reader.read(keys, "fields");
  }

  /** The fields of a part are read as if they stood here; its places are those of its own file. */
  private Fields used(SymbolTable inside) {
    String part = keys.text("use").orElse("");
    FormRegistry registry = reach.registry();
    Optional<PartFile> found = registry.part(part);
    Node body = found.flatMap(PartFile::fields).orElse(null);
    if (keys.has("fields")) {
      keys.bad(
          "fields", "bad-value", "`fields` is not allowed with `part`: the part has the fields.");
    }
    if (found.isEmpty()) {
      keys.unpublished("use", "part", part, registry.shared().parts().keySet());
      return Fields.NONE;
    }
    if (body == null) {
      String rule = "The part `" + part + "` is a rule, not a set of fields.";
      keys.bad("use", "unknown-name", rule);
      return Fields.NONE;
    }
    var own = new Errors();
    Section holder =
        Section.of(
                new Node.Mapping(
                    keys.place(), List.of(new Node.Entry("fields", keys.place(), body))),
                "#",
                "A part",
                own)
            .orElseThrow();
    ReaderContext here = new ReaderContext(reach.form(), own, reach.registry(), reach.root());
    Fields fields = new FieldsReader(here, inside, depth + 1).read(holder, "fields");
    if (!own.isEmpty()) {
      keys.bad(
          "use",
          "bad-value",
          "The part `"
              + part
              + "` does not fit here: "
              + own.thrown().errors().getFirst().detail());
    }
    return fields;
  }
}
