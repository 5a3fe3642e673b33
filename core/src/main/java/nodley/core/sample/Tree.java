package nodley.core.sample;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Raw;

/**
 * Reads and replaces a value in a tree of values. A path has names (members) and numbers from 0
 * (items). Trees are not changed: what is replaced is in a copy.
 */
final class Tree {

  private Tree() {}

  static Optional<Raw> at(Map<String, Raw> members, List<Object> path) {
    Raw here = new Raw.Members(members);
    for (Object step : path) {
      here =
          switch (here) {
            case Raw.Members(Map<String, Raw> inside) when step instanceof String name ->
                inside.get(name);
            case Raw.Many(List<Raw> items) when step instanceof Integer i && i < items.size() ->
                items.get(i);
            case null, default -> null;
          };
    }
    return Optional.ofNullable(here);
  }

  /** The same tree with another value in this place. */
  static Map<String, Raw> with(Map<String, Raw> members, List<?> path, Raw raw) {
    Map<String, Raw> changed = new LinkedHashMap<>(members);
    String name = (String) path.getFirst();
    changed.put(name, inside(changed.get(name), path.subList(1, path.size()), raw));
    return changed;
  }

  private static Raw inside(Raw before, List<?> path, Raw raw) {
    if (path.isEmpty()) {
      return raw;
    }
    if (path.getFirst() instanceof Integer row) {
      List<Raw> items =
          new ArrayList<>(before instanceof Raw.Many(List<Raw> all) ? all : List.of());
      if (row < items.size()) {
        items.set(row, inside(items.get(row), path.subList(1, path.size()), raw));
      }
      return new Raw.Many(items);
    }
    return new Raw.Members(
        with(before instanceof Raw.Members(Map<String, Raw> all) ? all : Map.of(), path, raw));
  }
}
