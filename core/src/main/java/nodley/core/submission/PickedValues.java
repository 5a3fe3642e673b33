package nodley.core.submission;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** Picks some of a record's values, as a JSON writer takes them. Stateless. */
public final class PickedValues {

  private PickedValues() {}

  /**
   * Returns the values at some paths, each under the same names as among all; what is blank is left
   * out. A path through rows picks from each row.
   */
  public static Map<String, Object> of(Map<String, Object> all, List<List<String>> paths) {
    Map<String, Object> only = new LinkedHashMap<>();
    Map<String, List<List<String>>> inside = new LinkedHashMap<>();
    for (List<String> path : paths) {
      String name = path.getFirst();
      if (path.size() > 1) {
        inside.computeIfAbsent(name, _ -> new ArrayList<>()).add(path.subList(1, path.size()));
        only.putIfAbsent(name, null);
      } else if (all.containsKey(name)) {
        only.put(name, all.get(name));
      }
    }
    inside.forEach((name, rest) -> only.put(name, within(all.get(name), rest)));
    only.values().removeIf(Objects::isNull);
    return only;
  }

  @SuppressWarnings("unchecked")
  private static Object within(Object value, List<List<String>> paths) {
    return switch (value) {
      case Map<?, ?> group -> of((Map<String, Object>) group, paths);
      case List<?> rows -> rows.stream().map(row -> within(row, paths)).toList();
      case null -> null;
      default -> value;
    };
  }
}
