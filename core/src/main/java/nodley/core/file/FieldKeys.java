package nodley.core.file;

import static nodley.core.file.SchemaParts.CONDITION;
import static nodley.core.file.SchemaParts.FLAG;
import static nodley.core.file.SchemaParts.NAMES;
import static nodley.core.file.SchemaParts.SPAN;
import static nodley.core.file.SchemaParts.TEXT;
import static nodley.core.file.SchemaParts.VALUE;
import static nodley.core.file.SchemaParts.WORDS;
import static nodley.core.file.SchemaParts.anyOf;
import static nodley.core.file.SchemaParts.both;
import static nodley.core.file.SchemaParts.needs;
import static nodley.core.file.SchemaParts.oneOf;
import static nodley.core.file.SchemaParts.ref;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import nodley.core.form.Checking;
import nodley.core.form.Control;
import nodley.core.form.Type;
import nodley.core.submission.Sentences;

/**
 * The table of the keys of fields, and of the types that have each: the reader allows them, the
 * JSON Schema for editors lists them, and texts files have those that are texts.
 */
final class FieldKeys {

  /**
   * A key of fields.
   *
   * @param types those that have it
   * @param schema the JSON Schema of its value, which may depend on the type
   * @param isText true if texts files have it, too
   */
  private record Row(
      String name, Set<Type> types, Function<Type, Map<String, Object>> schema, boolean isText) {}

  private static final Set<Type> ALL = EnumSet.allOf(Type.class);
  private static final Set<Type> WRITTEN = EnumSet.of(Type.TEXT, Type.EMAIL, Type.URL, Type.PHONE);
  private static final Set<Type> NUMBERS = EnumSet.of(Type.INTEGER, Type.DECIMAL);
  private static final Set<Type> CLOCK = EnumSet.of(Type.DATE, Type.TIME, Type.DATETIME);
  private static final Set<Type> SETS = EnumSet.of(Type.GROUP, Type.ROWS);
  private static final Set<Type> SINGLE = except(SETS);
  private static final Set<Type> PLAIN = except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET)));
  private static final Set<Type> COMPUTED =
      except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET, Type.CHOICES, Type.RECORD)));

  private static final List<Row> TABLE =
      List.of(
          key("type", ALL, type -> Map.of("const", type.word())),
          text("label", ALL, TEXT),
          text("help", ALL, TEXT),
          text("placeholder", union(WRITTEN, NUMBERS), TEXT),
          text("unit", union(EnumSet.of(Type.TEXT), NUMBERS), TEXT),
          text("add", EnumSet.of(Type.ROWS), TEXT),
          key("required", ALL, CONDITION),
          key("shown", ALL, CONDITION),
          key("editable", ALL, CONDITION),
          key(
              "control",
              ALL,
              type -> SchemaParts.oneOf(type.controls().stream().map(Control::word).toList())),
          key("multiline", EnumSet.of(Type.TEXT), FLAG),
          key("tidy", WRITTEN, type -> SchemaParts.listOf(oneOf(TidyReader.steps(type)))),
          key("keep", WRITTEN, TEXT),
          key("length", union(WRITTEN, EnumSet.of(Type.SECRET)), SPAN),
          key("pattern", union(WRITTEN, EnumSet.of(Type.SECRET)), TEXT),
          key("range", union(NUMBERS, CLOCK), SPAN),
          key("step", NUMBERS, SchemaParts.types("number", "string")),
          key(
              "decimals",
              EnumSet.of(Type.DECIMAL),
              Map.of("type", "integer", "minimum", 0, "maximum", 15)),
          text(
              "options",
              EnumSet.of(Type.TEXT, Type.CHOICE, Type.CHOICES, Type.RECORD),
              SchemaParts.types("array", "object")),
          key("count", EnumSet.of(Type.CHOICES, Type.ROWS, Type.FILE), SPAN),
          key("size", EnumSet.of(Type.FILE), SPAN),
          key("accept", EnumSet.of(Type.FILE), NAMES),
          key("form", EnumSet.of(Type.RECORD), TEXT),
          text("fields", SETS, ref("fields")),
          key("use", SETS, TEXT),
          key(
              "repeats",
              union(WRITTEN, union(NUMBERS, union(CLOCK, EnumSet.of(Type.SECRET)))),
              TEXT),
          key("check", SINGLE, oneOf(Checking.values(), Checking::word)),
          key("prefill", PLAIN, FLAG),
          key("kept", except(union(SETS, EnumSet.of(Type.FILE))), FLAG),
          key("default", PLAIN, VALUE),
          key("suggest", COMPUTED, VALUE),
          key("compute", COMPUTED, VALUE),
          key("see", SINGLE, WORDS),
          key("edit", SINGLE, WORDS),
          key(
              "unique",
              except(union(SETS, EnumSet.of(Type.FILE, Type.SECRET, Type.CHOICES, Type.BOOLEAN))),
              type -> anyOf(FLAG, unique(type).schema())),
          key(
              "exists",
              EnumSet.of(Type.TEXT, Type.EMAIL, Type.URL, Type.PHONE, Type.INTEGER),
              WORDS),
          key("ask", PLAIN, both(FormKeys.ASK.schema(), needs("of"))),
          key("confirm", EnumSet.of(Type.EMAIL), anyOf(FLAG, FormKeys.CONFIRM.schema())),
          text(
              "say",
              ALL,
              SchemaParts.closed(
                  Sentences.KEYS.stream()
                      .collect(
                          Collectors.toMap(
                              Function.identity(),
                              _ -> ref("sentence"),
                              (a, _) -> a,
                              LinkedHashMap::new)))),
          text("rules", ALL, ref("rules")),
          key("masked", ALL, FLAG),
          key("was", ALL, TEXT));

  private FieldKeys() {}

  private static Set<Type> union(Set<Type> a, Set<Type> b) {
    Set<Type> both = EnumSet.copyOf(a);
    both.addAll(b);
    return both;
  }

  private static Set<Type> except(Set<Type> types) {
    return EnumSet.complementOf(EnumSet.copyOf(types));
  }

  private static Row key(String name, Set<Type> types, Function<Type, Map<String, Object>> schema) {
    return new Row(name, types, schema, false);
  }

  private static Row key(String name, Set<Type> types, Map<String, Object> schema) {
    return new Row(name, types, _ -> schema, false);
  }

  private static Row text(String name, Set<Type> types, Map<String, Object> schema) {
    return new Row(name, types, _ -> schema, true);
  }

  /** The keys of {@code unique} of a field. */
  static KeySet unique(Type type) {
    List<KeySet.Key> keys = new ArrayList<>();
    keys.add(KeySet.key("ignore-case", FormKeys.FLAG_OR_ALONE));
    keys.add(KeySet.key("within", NAMES));
    keys.add(KeySet.key("in", WORDS));
    keys.add(KeySet.key("when", TEXT));
    keys.add(KeySet.key("early", FLAG));
    keys.add(KeySet.key("hold", FLAG));
    if (type == Type.TEXT || type == Type.INTEGER) {
      keys.add(KeySet.key("alternatives", FLAG));
    }
    return new KeySet("`unique`", keys);
  }

  static boolean has(String key, Type type) {
    return TABLE.stream().anyMatch(it -> it.name().equals(key) && it.types().contains(type));
  }

  /** The keys of fields of all types. */
  static List<String> all() {
    return TABLE.stream().map(Row::name).toList();
  }

  /** The keys of fields that texts files have, too. */
  static List<String> texts() {
    return TABLE.stream().filter(Row::isText).map(Row::name).toList();
  }

  /** The keys of fields of one type. */
  static KeySet of(Type type) {
    return new KeySet(
        "A field of type " + type.word(),
        TABLE.stream()
            .filter(it -> it.types().contains(type))
            .map(it -> new KeySet.Key(it.name(), it.schema().apply(type), it.isText()))
            .toList());
  }

  /** Why a key that other types have is not for this one. */
  static Optional<String> notForThis(String key, Type type) {
    if (!all().contains(key)) {
      return Optional.empty();
    }
    String instead =
        switch (key) {
          case "length" ->
              type.isNumber()
                  ? " `range` limits a number."
                  : FieldKeys.has("count", type) ? " `count` limits how many." : "";
          case "range" -> type.isWritten() ? " `length` limits a text." : "";
          case "decimals" -> type == Type.INTEGER ? " A whole number has none." : "";
          default -> "";
        };
    return Optional.of("`" + key + "` does not go with type " + type.word() + "." + instead);
  }
}
