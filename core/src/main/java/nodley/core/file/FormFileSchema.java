package nodley.core.file;

import static nodley.core.file.SchemaParts.TEXT;
import static nodley.core.file.SchemaParts.anyOf;
import static nodley.core.file.SchemaParts.both;
import static nodley.core.file.SchemaParts.listOf;
import static nodley.core.file.SchemaParts.needs;
import static nodley.core.file.SchemaParts.ref;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Type;
import nodley.core.name.FieldName;

/**
 * JSON Schema (2020-12) of form files, for completion and validation in editors, from the tables of
 * keys. Whether names exist and expressions are correct, only {@link FormFile} can tell.
 */
public final class FormFileSchema {

  private static final String FIELD = "^" + FieldName.PATTERN + "$";

  private FormFileSchema() {}

  /** The schema, as a tree that a JSON writer takes. */
  public static Map<String, Object> json() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("$schema", "https://json-schema.org/draft/2020-12/schema");
    json.put("title", "Form file");
    json.putAll(FormKeys.FORM.schema());
    json.put("required", List.of("form", "fields"));
    json.put("$defs", definitions());
    return json;
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
      definitions.put("field-" + type.word(), FieldKeys.of(type).schema());
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
    definitions.put("rules", listOf(ref("rule")));
    definitions.put("rule", rule());
    definitions.put("sentence", anyOf(TEXT, FormKeys.SENTENCE.schema()));
    return definitions;
  }

  /** A rule of its own, or one that uses a part. */
  private static Map<String, Object> rule() {
    List<KeySet.Key> keys = new ArrayList<>(FormKeys.RULE.keys());
    FormKeys.RULE_OF_PART.keys().stream()
        .filter(it -> !FormKeys.RULE.names().contains(it.name()))
        .forEach(keys::add);
    return both(
        new KeySet(FormKeys.RULE.what(), keys).schema(), anyOf(needs("must"), needs("use")));
  }
}
