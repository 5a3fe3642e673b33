package nodley.core.file;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/** Parts of JSON Schemas (2020-12) that the tables of keys are written with. */
final class SchemaParts {

  static final Map<String, Object> TEXT = Map.of("type", "string");
  static final Map<String, Object> FLAG = Map.of("type", "boolean");
  static final Map<String, Object> NAMES = Map.of("type", "array", "items", TEXT);

  /** One word, or several. */
  static final Map<String, Object> WORDS = anyOf(TEXT, NAMES);

  /** True, false, or an expression. */
  static final Map<String, Object> CONDITION = types("boolean", "string");

  /** A value, or an expression. */
  static final Map<String, Object> VALUE = types("string", "number", "boolean", "array");

  /** A number, or two with {@code ..} between them. */
  static final Map<String, Object> SPAN = types("string", "number");

  private SchemaParts() {}

  /** A value of one of these types of JSON. */
  static Map<String, Object> types(String... types) {
    return Map.of("type", List.of(types));
  }

  /** One of these words. */
  static Map<String, Object> oneOf(List<String> words) {
    return Map.of("enum", words);
  }

  /** One of the words of these constants. */
  static <T> Map<String, Object> oneOf(T[] all, Function<T, String> word) {
    return oneOf(Arrays.stream(all).map(word).toList());
  }

  /** A list of such items. */
  static Map<String, Object> listOf(Map<String, Object> items) {
    return Map.of("type", "array", "items", items);
  }

  /** An object with any keys, and such values. */
  static Map<String, Object> mapOf(Map<String, Object> values) {
    return Map.of("type", "object", "additionalProperties", values);
  }

  /** One of the definitions that a form file's schema has. */
  static Map<String, Object> ref(String name) {
    return Map.of("$ref", "#/$defs/" + name);
  }

  /** An object in which this key must be. */
  static Map<String, Object> needs(String key) {
    return Map.of("required", List.of(key));
  }

  /** What one of the two schemas takes, or both. */
  static Map<String, Object> anyOf(Map<String, Object> one, Map<String, Object> other) {
    return Map.of("anyOf", List.of(one, other));
  }

  /** What both schemas demand. */
  static Map<String, Object> both(Map<String, Object> schema, Map<String, Object> more) {
    Map<String, Object> both = new LinkedHashMap<>(schema);
    both.putAll(more);
    return both;
  }

  /** An object with these properties, and no others. */
  static Map<String, Object> closed(Map<String, Map<String, Object>> properties) {
    return Map.of("type", "object", "properties", properties, "additionalProperties", false);
  }
}
