package nodley.begin;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** One field of a form file that is being begun: its keys, and what is said about it. */
final class FieldSketch {

  final String name;
  final List<String> comments = new ArrayList<>();

  /** By key, in the order in which they are written; texts, numbers, booleans, lists, maps. */
  final Map<String, Object> keys = new LinkedHashMap<>();

  /** The fields inside a group or rows. */
  final FieldsSketch inside = new FieldsSketch();

  FieldSketch(String name) {
    this.name = name;
    keys.put("type", "text");
  }

  FieldSketch type(String type) {
    keys.put("type", type);
    return this;
  }

  String type() {
    return (String) keys.get("type");
  }

  FieldSketch put(String key, Object value) {
    keys.put(key, value);
    return this;
  }

  FieldSketch say(String comment) {
    comments.add(comment);
    return this;
  }

  /** A span such as {@code 2..60}; nothing if it has no end. */
  FieldSketch span(String key, Object min, Object max) {
    if (min != null || max != null) {
      keys.put(key, (min == null ? "" : min) + ".." + (max == null ? "" : max));
    }
    return this;
  }
}
