package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.Map;

/**
 * What forms share: lists of options, and parts. A form file that names one that is not here has an
 * error.
 */
public record Shared(Map<String, ListFile> lists, Map<String, PartFile> parts) {

  public static final Shared NONE = new Shared(Map.of(), Map.of());

  public Shared {
    lists = new LinkedHashMap<>(lists);
    parts = new LinkedHashMap<>(parts);
  }

  /** The same with a list added, or put in place of the one of its name. */
  public Shared with(ListFile list) {
    Map<String, ListFile> more = new LinkedHashMap<>(lists);
    more.put(list.name(), list);
    return new Shared(more, parts);
  }

  /** The same with a part added, or put in place of the one of its name. */
  public Shared with(PartFile part) {
    Map<String, PartFile> more = new LinkedHashMap<>(parts);
    more.put(part.name(), part);
    return new Shared(lists, more);
  }

  public Shared withoutList(String name) {
    Map<String, ListFile> fewer = new LinkedHashMap<>(lists);
    fewer.remove(name);
    return new Shared(fewer, parts);
  }

  public Shared withoutPart(String name) {
    Map<String, PartFile> fewer = new LinkedHashMap<>(parts);
    fewer.remove(name);
    return new Shared(lists, fewer);
  }
}
