package nodley.begin;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** A JSON Schema of an object (draft 2020-12, as far as a form file can say the same). */
public final class FromSchema {

  /** References may lead so deep. */
  private static final int MAX_DEPTH = 20;

  private static final Map<String, String> FORMATS =
      Map.of(
          "email",
          "email",
          "idn-email",
          "email",
          "uri",
          "url",
          "iri",
          "url",
          "date",
          "date",
          "time",
          "time",
          "date-time",
          "datetime",
          "password",
          "secret");

  /** What is carried over or says nothing that a form file could. */
  private static final Set<String> KNOWN =
      Set.of(
          "type",
          "format",
          "enum",
          "const",
          "title",
          "description",
          "default",
          "minLength",
          "maxLength",
          "minimum",
          "maximum",
          "exclusiveMinimum",
          "exclusiveMaximum",
          "multipleOf",
          "pattern",
          "items",
          "minItems",
          "maxItems",
          "uniqueItems",
          "properties",
          "required",
          "readOnly",
          "writeOnly",
          "oneOf",
          "$ref",
          "$comment",
          "additionalProperties",
          "examples",
          "$id",
          "$schema",
          "dependentRequired",
          "$defs",
          "definitions");

  /** Groups and rows may be nested so deep. */
  private static final int MAX_SETS = 4;

  /** Keywords that go with one type, where none is said. */
  private static final Map<List<String>, String> BY_KEYWORD =
      Map.of(
          List.of("properties"), "object",
          List.of("items", "minItems", "maxItems"), "array",
          List.of("minLength", "maxLength", "pattern", "format"), "string",
          List.of("minimum", "maximum", "multipleOf"), "number");

  private final JsonNode root;

  /** The schemas that a property is inside of. */
  private final Set<JsonNode> within = Collections.newSetFromMap(new IdentityHashMap<>());

  private FromSchema(JsonNode root) {
    this.root = root;
  }

  /**
   * Begins a form from a schema.
   *
   * @throws BadSource if it is no schema of an object
   */
  public static Sketch read(String form, SourceFile file) throws BadSource {
    JsonNode root;
    try {
      root = JsonMapper.shared().readTree(file.bytes());
    } catch (JacksonException e) {
      throw new BadSource("The file " + file.name() + " cannot be read as JSON.");
    }
    FromSchema reader = new FromSchema(root);
    JsonNode object = reader.merged(reader.resolved(root));
    if (!object.path("properties").isObject()) {
      throw new BadSource(
          "The schema in " + file.name() + " is not one of an object with `properties`.");
    }
    Sketch sketch = new Sketch(form, "the schema " + file.lastName());
    reader.fields(object, sketch.fields, sketch::say, 1);
    unsaid(object).ifPresent(sketch::say);
    return sketch;
  }

  /** A schema with the properties of all that {@code allOf} names beside it. */
  private JsonNode merged(JsonNode schema) {
    if (!schema.path("allOf").isArray()) {
      return schema;
    }
    ObjectNode whole = JsonMapper.shared().createObjectNode();
    ObjectNode properties = whole.putObject("properties");
    ArrayNode required = whole.putArray("required");
    List<JsonNode> parts = new ArrayList<>();
    schema.path("allOf").forEach(part -> parts.add(resolved(part)));
    parts.add(schema);
    Set<String> twice = new TreeSet<>();
    for (JsonNode part : parts) {
      part.path("properties")
          .propertyStream()
          .forEach(it -> properties.set(it.getKey(), it.getValue()));
      part.path("required").forEach(required::add);
      part.propertyStream()
          .filter(it -> !Set.of("properties", "required", "allOf").contains(it.getKey()))
          .forEach(
              it -> {
                JsonNode other = whole.replace(it.getKey(), it.getValue());
                if (other != null && !other.equals(it.getValue())) {
                  twice.add(it.getKey());
                }
              });
    }
    if (properties.isEmpty()) {
      whole.remove(List.of("properties", "required"));
    }
    if (!twice.isEmpty()) {
      // What is said twice has no place in a form file, and a comment says so.
      whole.put("allOf: " + String.join(", ", twice), true);
    }
    return whole;
  }

  /** Of a value that may be null too: what it is else. */
  private JsonNode present(JsonNode schema) {
    for (String key : List.of("anyOf", "oneOf")) {
      List<JsonNode> others = new ArrayList<>();
      schema.path(key).forEach(it -> others.add(resolved(it)));
      int all = others.size();
      others.removeIf(it -> it.path("type").asString("").equals("null"));
      if (others.size() == 1 && all == 2) {
        ObjectNode whole = JsonMapper.shared().createObjectNode();
        others.getFirst().propertyStream().forEach(it -> whole.set(it.getKey(), it.getValue()));
        schema
            .propertyStream()
            .filter(it -> !it.getKey().equals(key))
            .forEach(it -> whole.set(it.getKey(), it.getValue()));
        return whole;
      }
    }
    return schema;
  }

  /** Follows local references; one that leads nowhere, or in circles, is an empty schema. */
  private JsonNode resolved(JsonNode schema) {
    JsonNode here = schema;
    for (int i = 0; i < MAX_DEPTH && here.has("$ref"); i++) {
      String ref = here.path("$ref").asString("");
      here = ref.startsWith("#/") ? root.at(ref.substring(1)) : root.path("");
    }
    return here;
  }

  /** The fields of an object; what is left out of it is said. */
  private void fields(JsonNode object, FieldsSketch fields, Consumer<String> say, int depth) {
    Set<String> required = new HashSet<>();
    object.path("required").forEach(it -> required.add(it.asString("")));
    Map<String, FieldSketch> byProperty = new HashMap<>();
    for (Map.Entry<String, JsonNode> property : object.path("properties").properties()) {
      JsonNode schema = merged(present(resolved(property.getValue())));
      String called = property.getKey();
      JsonNode inside = type(schema).equals("array") ? resolved(schema.path("items")) : schema;
      if (within.contains(inside)) {
        say.accept("`" + called + "` is left out: it is inside itself, without end.");
        continue;
      }
      if (depth > MAX_SETS && isSet(inside)) {
        say.accept("`" + called + "` is left out: sets of fields are at most four deep.");
        continue;
      }
      FieldSketch field = fields.add(called);
      byProperty.put(called, field);
      boolean needed = required.contains(called);
      within.add(inside);
      field(field, schema, depth);
      within.remove(inside);
      if (needed && field.type().equals("boolean") && !field.keys.containsKey("required")) {
        field.say("There it has to be sent; here one that is not sent is no.");
      } else if (needed && !field.type().matches("boolean|group|rows")) {
        field.put("required", true);
      } else if (!needed) {
        optional(field);
      }
    }
    dependent(object.path("dependentRequired"), byProperty);
  }

  /** What is required where another property is there. */
  private static void dependent(JsonNode required, Map<String, FieldSketch> byProperty) {
    for (Map.Entry<String, JsonNode> each : required.properties()) {
      FieldSketch given = byProperty.get(each.getKey());
      for (JsonNode name : each.getValue()) {
        FieldSketch field = byProperty.get(name.asString(""));
        if (given != null && field != null) {
          field.keys.putIfAbsent("required", given.name + " is not blank");
        }
      }
    }
  }

  private static boolean isSet(JsonNode schema) {
    return schema.path("properties").isObject() || type(schema).equals("object");
  }

  /** What an object or an array asks for there, it asks for only where it is there at all. */
  private static void optional(FieldSketch field) {
    if (field.type().equals("group")) {
      for (FieldSketch inside : field.inside.byName.values()) {
        if (Boolean.TRUE.equals(inside.keys.get("required"))) {
          inside.put("required", field.name + " is not blank");
        }
      }
    }
    Object count = field.keys.get("count");
    if (count != null && !count.toString().startsWith("..")) {
      String most = count.toString().replaceFirst("^[^.]*", "");
      field.keys.remove("count");
      if (!most.equals("..") && most.startsWith("..")) {
        field.put("count", most);
      }
      field.say("There, where it is there at all, it has `" + count + "` items.");
    }
  }

  private void field(FieldSketch field, JsonNode schema, int depth) {
    text(field, schema, "title", "label");
    text(field, schema, "description", "help");
    type(field, schema, depth);
    if (schema.path("readOnly").asBoolean(false)) {
      field.put("editable", false);
    }
    JsonNode first = schema.path("default");
    if (first.isValueNode() && !first.isNull()) {
      field.put("default", first.isBoolean() ? (Object) first.asBoolean() : first.asString());
    }
    unsaid(schema).ifPresent(field::say);
  }

  private static Optional<String> unsaid(JsonNode schema) {
    List<String> unsaid =
        schema.propertyNames().stream().filter(it -> !KNOWN.contains(it)).toList();
    return unsaid.isEmpty()
        ? Optional.empty()
        : Optional.of("Not carried over: " + String.join(", ", unsaid) + ".");
  }

  private static void text(FieldSketch field, JsonNode schema, String from, String to) {
    String text = schema.path(from).asString("").strip();
    if (!text.isEmpty()) {
      field.put(to, text.replaceAll("\\s+", " "));
    }
  }

  private void type(FieldSketch field, JsonNode schema, int depth) {
    Map<String, String> options = options(schema);
    if (!options.isEmpty()) {
      field.type("choice");
      put(field, options);
      options(field, schema.path("enum"));
      return;
    }
    if (isYesOrNo(schema.path("enum"))) {
      field.type("boolean");
      return;
    }
    List<String> types = new ArrayList<>();
    schema.path("type").forEach(it -> types.add(it.asString("")));
    types.remove("null");
    if (types.size() > 1) {
      field.say("There its type is one of " + String.join(", ", types) + ".");
    }
    switch (type(schema)) {
      case "integer" -> numbers(field.type("integer"), schema);
      case "number" -> numbers(field.type("decimal"), schema);
      case "boolean" -> {
        field.type("boolean");
        if (schema.path("const").asBoolean(false)) {
          field.put("required", true);
        }
      }
      case "array" -> array(field, schema, depth);
      case "object" -> set(field, "group", schema, depth);
      case "string" -> string(field, schema);
      default -> field.say("Its type is not known; text is a guess.");
    }
  }

  private static boolean isYesOrNo(JsonNode options) {
    return !options.isEmpty()
        && options.valueStream().allMatch(it -> it.isBoolean() || it.isNull());
  }

  /** What of the options there is otherwise here. */
  private static void options(FieldSketch field, JsonNode options) {
    if (options.valueStream().anyMatch(JsonNode::isNumber)) {
      field.say("There some are numbers; an option here is text.");
    }
    List<String> others =
        options
            .valueStream()
            .filter(it -> !it.isString() && !it.isNumber() && !it.isNull())
            .map(JsonNode::toString)
            .toList();
    if (!others.isEmpty()) {
      field.say("Left out of the options: " + String.join(", ", others) + ".");
    }
  }

  /** The type that is said, or else the one that what is said of it speaks of. */
  private static String type(JsonNode schema) {
    JsonNode type = schema.path("type");
    if (type.isArray()) {
      for (JsonNode each : type) {
        if (!each.asString("").equals("null")) {
          return each.asString("");
        }
      }
    }
    if (type.isString()) {
      return type.asString();
    }
    return BY_KEYWORD.entrySet().stream()
        .filter(it -> it.getKey().stream().anyMatch(schema::has))
        .map(Map.Entry::getValue)
        .findFirst()
        .orElse("");
  }

  /** The options of {@code enum}, or of {@code oneOf} with constants that have titles. */
  private static Map<String, String> options(JsonNode schema) {
    Map<String, String> options = new LinkedHashMap<>();
    schema.path("enum").forEach(it -> option(options, it, ""));
    option(options, schema.path("const"), "");
    schema
        .path("oneOf")
        .forEach(it -> option(options, it.path("const"), it.path("title").asString("")));
    return options;
  }

  private static void option(Map<String, String> options, JsonNode value, String title) {
    if ((value.isString() || value.isNumber()) && !value.asString().isBlank()) {
      options.put(value.asString(), title);
    }
  }

  private static void put(FieldSketch field, Map<String, String> options) {
    boolean titled = options.values().stream().noneMatch(String::isEmpty);
    field.put("options", titled ? options : List.copyOf(options.keySet()));
  }

  private static void string(FieldSketch field, JsonNode schema) {
    String format = schema.path("format").asString("");
    field.type(FORMATS.getOrDefault(format, "text"));
    if (!format.isEmpty() && !FORMATS.containsKey(format)) {
      field.say("Its format there is " + format + ".");
    }
    if (field.type().equals("url")) {
      field.say(
          "There it is any "
              + format.toUpperCase(Locale.ROOT)
              + "; here an address of http or https.");
    }
    boolean measured = field.type().matches("text|email|url|secret");
    if (measured) {
      field.span("length", number(schema, "minLength"), number(schema, "maxLength"));
    }
    String pattern = schema.path("pattern").asString("");
    if (!pattern.isEmpty() && measured) {
      field.put("pattern", SchemaPattern.whole(pattern));
    }
  }

  private static String number(JsonNode schema, String key) {
    JsonNode number = schema.path(key);
    return number.isNumber() ? number.decimalValue().stripTrailingZeros().toPlainString() : null;
  }

  private static void numbers(FieldSketch field, JsonNode schema) {
    String min = number(schema, "minimum");
    String max = number(schema, "maximum");
    for (String key : List.of("exclusiveMinimum", "exclusiveMaximum")) {
      String end = number(schema, key);
      boolean low = key.endsWith("Minimum");
      if (end != null && field.type().equals("integer") && end.matches("-?[0-9]{1,15}")) {
        String inside = Long.toString(Long.parseLong(end) + (low ? 1 : -1));
        min = low ? inside : min;
        max = low ? max : inside;
      } else if (end != null) {
        min = low ? end : min;
        max = low ? max : end;
        field.say("There " + end + " itself is left out (" + key + ").");
      }
    }
    field.span("range", min, max);
    String step = number(schema, "multipleOf");
    if (step != null && !(field.type().equals("integer") && step.equals("1"))) {
      field.put("step", step);
      if (min != null) {
        field.say("Steps there are counted from 0, here from " + min + ".");
      }
    }
  }

  private void array(FieldSketch field, JsonNode schema, int depth) {
    JsonNode items = merged(present(resolved(schema.path("items"))));
    Map<String, String> options = options(items);
    if (!options.isEmpty()) {
      put(field.type("choices"), options);
    } else if (items.path("properties").isObject()) {
      set(field, "rows", items, depth);
    } else {
      set(field, "rows", JsonMapper.shared().createObjectNode(), depth);
      field(field.inside.add("value"), items, depth + 1);
      field.say("There it is a list of single values.");
      if (schema.path("uniqueItems").asBoolean(false)) {
        field.say("There no two of them are the same.");
      }
    }
    field.span("count", number(schema, "minItems"), number(schema, "maxItems"));
  }

  private void set(FieldSketch field, String type, JsonNode schema, int depth) {
    field.type(type);
    fields(schema, field.inside, field::say, depth + 1);
    if (type.equals("group") && field.inside.byName.isEmpty()) {
      field.type("text").say("There it is an object without properties.");
    }
  }
}
