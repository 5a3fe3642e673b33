package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.name.Pointer;
import nodley.core.value.Raw;

/** Compares two versions of a record: fields of groups one by one, rows and choices as a whole. */
public final class Differences {

  private static final Raw NOTHING = new Raw.Null();

  private Differences() {}

  /** Each field that two versions have not the same, in the order of the version before. */
  public static List<Difference> between(Raw.Members before, Raw.Members after) {
    Map<String, Raw> old = byPointer(before);
    Map<String, Raw> now = byPointer(after);
    Set<String> pointers = new LinkedHashSet<>(old.keySet());
    pointers.addAll(now.keySet());
    return pointers.stream()
        .map(
            pointer ->
                new Difference(
                    pointer,
                    old.getOrDefault(pointer, NOTHING),
                    now.getOrDefault(pointer, NOTHING)))
        .filter(it -> !it.before().equals(it.after()))
        .toList();
  }

  /** What a version has at such a pointer; null in the sense of JSON where it has nothing. */
  public static Raw at(Raw.Members version, String pointer) {
    return byPointer(version).getOrDefault(pointer, NOTHING);
  }

  private static Map<String, Raw> byPointer(Raw.Members members) {
    Map<String, Raw> found = new LinkedHashMap<>();
    collect(members, Pointer.ROOT, found);
    return found;
  }

  private static void collect(Raw.Members members, String outer, Map<String, Raw> found) {
    members
        .members()
        .forEach(
            (name, raw) -> {
              String pointer = Pointer.in(outer, name);
              if (raw instanceof Raw.Members inside) {
                collect(inside, pointer, found);
              } else if (!raw.isBlank()) {
                found.put(pointer, raw);
              }
            });
  }
}
