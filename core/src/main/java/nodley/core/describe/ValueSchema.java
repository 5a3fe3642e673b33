package nodley.core.describe;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Choice;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.value.Addresses;
import nodley.core.value.Numbers;

/**
 * JSON Schema (draft 2020-12) of a form's values, tidied as in verdicts and records, without blank
 * ones. What JSON Schema cannot express is named in {@code $comment}.
 */
public final class ValueSchema {

  private static final Map<String, Object> FILE =
      Map.of(
          "name", Map.of("type", "string"),
          "type", Map.of("type", "string"),
          "size", Map.of("type", "integer", "minimum", 0),
          "sha256", Map.of("type", "string", "pattern", "^[0-9a-f]{64}$"),
          "href", Map.of("type", "string"));
  private static final String DATE = "^[0-9]{4}-[0-9]{2}-[0-9]{2}$";
  private static final String TIME = "^([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$";
  private static final String MOMENT =
      "^[0-9]{4}-[0-9]{2}-[0-9]{2}T([01][0-9]|2[0-3]):[0-5][0-9]:[0-5][0-9](\\.[0-9]{3})?Z$";

  private ValueSchema() {}

  /** Returns a JSON Schema (2020-12) of a form's submissions, as far as a schema can say it. */
  public static Map<String, Object> of(Form form) {
    Map<String, Object> schema = new LinkedHashMap<>();
    schema.put("$schema", "https://json-schema.org/draft/2020-12/schema");
    schema.put("title", form.label());
    object(form.fields(), schema);
    if (!form.rules().isEmpty()) {
      schema.put("$comment", "Not said here: rules over several fields.");
    }
    return schema;
  }

  private static void object(Fields fields, Map<String, Object> schema) {
    schema.put("type", "object");
    Map<String, Object> properties = new LinkedHashMap<>();
    List<String> required = new ArrayList<>();
    for (Field field : fields.onPages()) {
      properties.put(field.name(), property(field));
      if (isAlwaysThere(field)) {
        required.add(field.name());
      }
    }
    schema.put("properties", properties);
    if (!required.isEmpty()) {
      schema.put("required", required);
    }
    schema.put("additionalProperties", false);
  }

  /** A secret is never told, so no set of values can be asked to have it. */
  private static boolean isAlwaysThere(Field field) {
    if (!field.presence().shown().isAlways() || field.isSecret() || field.type() == Type.FILE) {
      return false;
    }
    boolean counted = field.limits().count().min().filter(min -> min > 0).isPresent();
    boolean inside =
        field.type() == Type.GROUP && field.fields().stream().anyMatch(ValueSchema::isAlwaysThere);
    return field.presence().required().isAlways() || counted || inside;
  }

  private static Map<String, Object> property(Field field) {
    Map<String, Object> schema = new LinkedHashMap<>();
    schema.put("title", field.label());
    List<String> unsaid = new ArrayList<>();
    switch (field.type()) {
      case INTEGER, DECIMAL -> number(field, schema, unsaid);
      case BOOLEAN -> {
        schema.put("type", "boolean");
        if (field.presence().required().isAlways()) {
          schema.put("const", true);
        }
      }
      case DATE -> clock(field, schema, unsaid, DATE, "date");
      case TIME -> clock(field, schema, unsaid, TIME, "");
      case DATETIME -> clock(field, schema, unsaid, MOMENT, "date-time");
      case CHOICES -> {
        Map<String, Object> items = new LinkedHashMap<>();
        items.put("type", "string");
        choices(field, items, unsaid);
        schema.put("type", "array");
        schema.put("items", items);
        schema.put("uniqueItems", true);
        count(field, schema);
      }
      case FILE -> {
        Map<String, Object> file = field.takesFiles() ? new LinkedHashMap<>() : schema;
        file.put("type", List.of("string", "object"));
        file.put("pattern", "^(upload:.+|sha256:[0-9a-f]{64})$");
        file.put("required", List.of("sha256"));
        file.put("properties", FILE);
        if (field.takesFiles()) {
          schema.put("type", "array");
          schema.put("items", file);
          count(field, schema);
        }
        unsaid.add("the upload behind it");
      }
      case GROUP -> object(field.fields(), schema);
      case ROWS -> {
        Map<String, Object> items = new LinkedHashMap<>();
        object(field.fields(), items);
        schema.put("type", "array");
        schema.put("items", items);
        count(field, schema);
      }
      default -> text(field, schema, unsaid);
    }
    if (field.source().compute().isPresent()) {
      schema.put("readOnly", true);
      unsaid.add("that it is computed");
    }
    if (!field.presence().shown().isAlways()) {
      unsaid.add("when it is shown");
    }
    if (field.presence().required().when().isPresent()) {
      unsaid.add("when it is required");
    }
    if (!field.rules().isEmpty() || field.repeats().isPresent()) {
      unsaid.add("its rules with other fields");
    }
    if (field.unique().isPresent()) {
      unsaid.add("that it is unique");
    }
    if (field.exists().isPresent()) {
      unsaid.add("that it is in " + field.exists().get());
    }
    if (field.ask().isPresent()) {
      unsaid.add("what " + field.ask().get().of() + " is asked about it");
    }
    if (!unsaid.isEmpty()) {
      schema.put("$comment", "Not said here: " + String.join("; ", unsaid) + ".");
    }
    return schema;
  }

  private static void text(Field field, Map<String, Object> schema, List<String> unsaid) {
    schema.put("type", "string");
    Limits limits = field.limits();
    schema.put("minLength", limits.length().min().orElse(1));
    limits.length().max().ifPresent(max -> schema.put("maxLength", max));
    switch (field.type()) {
      case EMAIL -> schema.put("pattern", "^" + Addresses.EMAIL + "$");
      case URL -> {
        schema.put("pattern", "^" + Addresses.URL + "$");
        unsaid.add("whether its host and port can be");
      }
      case PHONE -> schema.put("pattern", "^\\+?[0-9]{7,15}$");
      case SECRET -> schema.put("writeOnly", true);
      case RECORD -> unsaid.add("that the record is there");
      case CHOICE -> choices(field, schema, unsaid);
      default -> {
        // A plain text has no more to it.
      }
    }
    limits
        .pattern()
        .ifPresent(pattern -> schema.put("allOf", List.of(Map.of("pattern", pattern.browser()))));
  }

  private static void choices(Field field, Map<String, Object> schema, List<String> unsaid) {
    if (field.options().source().isPresent()) {
      schema.put("type", "string");
      unsaid.add("which options there are");
      return;
    }
    schema.put("enum", field.options().choices().stream().map(Choice::value).toList());
    if (field.options().where().isPresent()) {
      unsaid.add("which options are offered when");
    }
    if (field.options().choices().stream().anyMatch(choice -> !choice.offered())) {
      unsaid.add("which options are no longer offered");
    }
  }

  private static void number(Field field, Map<String, Object> schema, List<String> unsaid) {
    schema.put("type", field.type() == Type.INTEGER ? "integer" : "number");
    Span<End> range = field.limits().range();
    boolean whole = field.type() == Type.INTEGER;
    Object least = whole ? Numbers.MAX_INTEGER.negate() : null;
    Object most = whole ? Numbers.MAX_INTEGER : null;
    put(schema, "minimum", range.min().map(End::toJson).orElse(least));
    put(schema, "maximum", range.max().map(End::toJson).orElse(most));
    if (!whole) {
      unsaid.add("at most 15 significant digits");
    }
    field
        .limits()
        .step()
        .ifPresent(
            step -> {
              boolean fromZero =
                  field.limits().stepBase().remainder(step).signum() == 0
                      && Numbers.isInteger(step);
              if (fromZero) {
                schema.put("multipleOf", step);
              } else {
                unsaid.add("steps of " + Numbers.plain(step));
              }
            });
    field
        .limits()
        .decimals()
        .ifPresent(places -> unsaid.add("at most " + places + " digits after the point"));
  }

  private static void put(Map<String, Object> schema, String key, Object value) {
    if (value != null) {
      schema.put(key, value);
    }
  }

  private static void clock(
      Field field, Map<String, Object> schema, List<String> unsaid, String pattern, String format) {
    schema.put("type", "string");
    schema.put("pattern", pattern);
    if (!format.isEmpty()) {
      schema.put("format", format);
    }
    if (field.limits().range().isLimited()) {
      unsaid.add("its range");
    }
  }

  private static void count(Field field, Map<String, Object> schema) {
    field.limits().count().min().ifPresent(min -> schema.put("minItems", min));
    field.limits().count().max().ifPresent(max -> schema.put("maxItems", max));
  }
}
