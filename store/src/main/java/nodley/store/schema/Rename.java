package nodley.store.schema;

import java.util.ArrayList;
import java.util.List;

/** A field that gets another name among its siblings, with everything nested in it. */
public record Rename(List<String> from, List<String> to) {

  public Rename {
    from = List.copyOf(from);
    to = List.copyOf(to);
  }

  /** The path that leads there now, of one that did so before. */
  public List<String> forth(List<String> path) {
    return replaced(path, from, to);
  }

  /** The path that led there before. */
  public List<String> back(List<String> path) {
    return replaced(path, to, from);
  }

  private static List<String> replaced(List<String> path, List<String> head, List<String> other) {
    if (path.size() < head.size() || !path.subList(0, head.size()).equals(head)) {
      return path;
    }
    List<String> replaced = new ArrayList<>(other);
    replaced.addAll(path.subList(head.size(), path.size()));
    return replaced;
  }
}
