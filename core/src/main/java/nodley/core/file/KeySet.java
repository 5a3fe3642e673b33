package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The keys that one kind of mapping of a form file may have. Immutable.
 *
 * @param what the mapping, as an error begins with it: {@code A rule}
 */
record KeySet(String what, List<Key> keys) {

  /**
   * A key.
   *
   * @param schema the JSON Schema of its value
   * @param isText true if texts files have it, too, to translate what it says
   */
  record Key(String name, Map<String, Object> schema, boolean isText) {}

  static KeySet of(String what, Key... keys) {
    return new KeySet(what, List.of(keys));
  }

  static Key key(String name, Map<String, Object> schema) {
    return new Key(name, schema, false);
  }

  /** A key whose value is translated, or has parts that are. */
  static Key text(String name, Map<String, Object> schema) {
    return new Key(name, schema, true);
  }

  List<String> names() {
    return keys.stream().map(Key::name).toList();
  }

  /** The names of those that texts files have, too. */
  List<String> texts() {
    return keys.stream().filter(Key::isText).map(Key::name).toList();
  }

  /** The JSON Schema of the mapping. */
  Map<String, Object> schema() {
    Map<String, Map<String, Object>> properties = new LinkedHashMap<>();
    keys.forEach(it -> properties.put(it.name(), it.schema()));
    return SchemaParts.closed(properties);
  }
}
