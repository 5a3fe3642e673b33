package nodley.core.file;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import nodley.core.form.Checking;
import nodley.core.form.Control;
import nodley.core.form.Form;
import nodley.core.form.Pages;
import nodley.core.form.Type;
import nodley.core.name.FieldName;
import nodley.core.submission.Sentences;

/**
 * JSON Schema (2020-12) of form files, for completion and validation in editors. Whether names
 * exist and expressions are correct, only {@link FormFile} can tell.
 */
public final class FormFileSchema {

  private static final String NAME = "^[a-z][a-z0-9-]{0,39}$";
  private static final String FIELD = "^" + FieldName.PATTERN + "$";

  private static final Map<String, Object> TEXT = Map.of("type", "string");
  private static final Map<String, Object> FLAG = Map.of("type", "boolean");
  private static final Map<String, Object> CONDITION = Map.of("type", List.of("boolean", "string"));
  private static final Map<String, Object> LITERAL =
      Map.of("type", List.of("string", "number", "boolean", "array"));
  private static final Map<String, Object> SPAN = Map.of("type", List.of("string", "number"));

  private static final Map<String, Object> FLAG_OR_NOTHING =
      Map.of("type", List.of("boolean", "null"));
  private static final Map<String, Object> NAMES = Map.of("type", "array", "items", TEXT);

  private FormFileSchema() {}

  /** The schema, as a tree that a JSON writer takes. */
  public static Map<String, Object> json() {
    Map<String, Object> properties = new LinkedHashMap<>();
    properties.put("form", Map.of("type", "string", "pattern", NAME));
    properties.put("title", anyOf(TEXT, object(TEXT, "add", "edit", "list")));
    properties.put("intro", TEXT);
    properties.put("called", TEXT);
    properties.put("records", Map.of("enum", words(Form.Records.values(), Form.Records::word)));
    properties.put("zone", TEXT);
    properties.put("access", object(anyOf(TEXT, NAMES), "add", "see", "edit", "remove"));
    properties.put("fields", ref("fields"));
    properties.put("unique", Map.of("type", "array", "items", ofForm()));
    properties.put("rules", ref("rules"));
    properties.put("origins", NAMES);
    properties.put("frames", NAMES);
    properties.put("buttons", object(TEXT, "add", "edit"));
    properties.put("layout", Map.of("enum", words(Pages.Layout.values(), Pages.Layout::word)));
    properties.put("theme", TEXT);
    properties.put("trap", FLAG);
    properties.put("keep-for", TEXT);
    properties.put(
        "forget",
        anyOf(
            Map.of("enum", List.of("remove", "keep")),
            object(NAMES, RetentionReader.FORGET_KEYS.toArray(String[]::new))));
    properties.put("pace", object(TEXT, PaceReader.KEYS.toArray(String[]::new)));
    properties.put("sections", Map.of("type", "object", "additionalProperties", section()));
    properties.put(
        "after",
        closed(
            Map.of(
                "add",
                closed(Map.of("go", TEXT, "say", TEXT, "clear", anyOf(TEXT, NAMES))),
                "edit",
                object(TEXT, "go", "say"))));
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("$schema", "https://json-schema.org/draft/2020-12/schema");
    json.put("title", "Form file");
    json.putAll(closed(properties));
    json.put("required", List.of("form", "fields"));
    json.put("$defs", definitions());
    return json;
  }

  /** What a field and the form may say of what is unique. */
  private static Map<String, Object> unique(String names) {
    Map<String, Object> keys = new LinkedHashMap<>();
    keys.put("ignore-case", FLAG_OR_NOTHING);
    keys.put(names, NAMES);
    keys.put("when", TEXT);
    keys.put("early", FLAG);
    keys.put("hold", FLAG);
    return keys;
  }

  private static Map<String, Object> uniqueOf(Type type) {
    Map<String, Object> keys = unique("within");
    if (type == Type.TEXT || type == Type.INTEGER) {
      keys.put("alternatives", FLAG);
    }
    return keys;
  }

  private static Map<String, Object> ofForm() {
    Map<String, Object> keys = unique("fields");
    keys.put("at", TEXT);
    Map<String, Object> schema = new LinkedHashMap<>(closed(keys));
    schema.putAll(needs("fields"));
    return schema;
  }

  private static Map<String, Object> section() {
    Map<String, Object> keys = new LinkedHashMap<>();
    keys.put("title", TEXT);
    keys.put("fields", NAMES);
    Map<String, Object> schema = new LinkedHashMap<>(closed(keys));
    schema.putAll(needs("fields"));
    return schema;
  }

  private static <T> List<String> words(T[] all, Function<T, String> word) {
    return Arrays.stream(all).map(word).toList();
  }

  private static Map<String, Object> definitions() {
    Map<String, Object> definitions = new LinkedHashMap<>();
    definitions.put(
        "fields",
        Map.of(
            "type",
            "object",
            "minProperties",
            1,
            "propertyNames",
            Map.of("pattern", FIELD, "maxLength", FieldName.LONGEST),
            "additionalProperties",
            ref("field")));
    List<Object> byType = new ArrayList<>();
    for (Type type : Type.values()) {
      Map<String, Object> is = Map.of("type", Map.of("const", type.word()));
      byType.add(
          Map.of(
              "if", Map.of("properties", is, "required", List.of("type")),
              "then", ref("field-" + type.word())));
      definitions.put("field-" + type.word(), closed(keys(type)));
    }
    definitions.put(
        "field",
        Map.of(
            "type",
            "object",
            "properties",
            Map.of("type", Map.of("enum", Type.words())),
            "anyOf",
            List.of(needs("type"), needs("use")),
            "allOf",
            byType));
    definitions.put("rules", Map.of("type", "array", "items", ref("rule")));
    Map<String, Object> rule = new LinkedHashMap<>();
    rule.put("must", CONDITION);
    rule.put("use", TEXT);
    rule.put("with", Map.of("type", "object"));
    rule.put("at", TEXT);
    rule.put("say", ref("sentence"));
    Map<String, Object> rules = new LinkedHashMap<>(closed(rule));
    rules.put("anyOf", List.of(needs("must"), needs("use")));
    definitions.put("rule", rules);
    Map<String, Object> sentence = new LinkedHashMap<>();
    sentence.put("text", TEXT);
    sentence.put("link", object(TEXT, "text", "href"));
    definitions.put("sentence", anyOf(TEXT, closed(sentence)));
    return definitions;
  }

  private static Map<String, Object> keys(Type type) {
    Map<String, Object> keys = new LinkedHashMap<>();
    for (String key : FieldKeys.of(type)) {
      keys.put(key, key(key, type));
    }
    return keys;
  }

  private static Object key(String key, Type type) {
    return switch (key) {
      case "type" -> Map.of("const", type.word());
      case "control" -> Map.of("enum", type.controls().stream().map(Control::word).toList());
      case "required", "shown", "editable" -> CONDITION;
      case "multiline", "kept", "masked", "prefill" -> FLAG;
      case "check" -> Map.of("enum", words(Checking.values(), Checking::word));
      case "say" -> object(ref("sentence"), Sentences.KEYS.toArray(String[]::new));
      case "see", "edit" -> anyOf(TEXT, NAMES);
      case "rules" -> ref("rules");
      case "fields" -> ref("fields");
      case "tidy" -> Map.of("type", "array", "items", Map.of("enum", TidyReader.steps(type)));
      case "length", "range", "count", "size" -> SPAN;
      case "step" -> Map.of("type", List.of("number", "string"));
      case "decimals" -> Map.of("type", "integer", "minimum", 0, "maximum", 15);
      case "accept" -> Map.of("type", "array", "items", TEXT);
      case "options" -> Map.of("type", List.of("array", "object"));
      case "unique" -> anyOf(FLAG, closed(uniqueOf(type)));
      case "default" -> LITERAL;
      case "compute", "suggest" -> LITERAL;
      default -> TEXT;
    };
  }

  private static Map<String, Object> ref(String name) {
    return Map.of("$ref", "#/$defs/" + name);
  }

  private static Map<String, Object> needs(String key) {
    return Map.of("required", List.of(key));
  }

  private static Map<String, Object> anyOf(Object... schemas) {
    return Map.of("anyOf", List.of(schemas));
  }

  private static Map<String, Object> closed(Map<String, Object> properties) {
    return Map.of("type", "object", "properties", properties, "additionalProperties", false);
  }

  /** A set of keys whose values are all of one kind. */
  private static Map<String, Object> object(Object value, String... keys) {
    Map<String, Object> properties = new LinkedHashMap<>();
    for (String key : keys) {
      properties.put(key, value);
    }
    return closed(properties);
  }
}
