package nodley.core.form;

import java.util.Collection;
import java.util.Collections;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** Fields side by side: those of a form, of a group, or of each row; in order, found by name. */
public final class Fields implements Iterable<Field> {

  public static final Fields NONE = new Fields(List.of());

  private final Map<String, Field> byName;

  public Fields(Collection<Field> fields) {
    Map<String, Field> ordered = new LinkedHashMap<>();
    fields.forEach(field -> ordered.put(field.name(), field));
    byName = Collections.unmodifiableMap(ordered);
  }

  public Optional<Field> find(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  /** The field behind the names of the groups and rows around it. */
  public Optional<Field> find(List<String> path) {
    Optional<Field> field = find(path.getFirst());
    return path.size() == 1
        ? field
        : field.flatMap(it -> it.fields().find(path.subList(1, path.size())));
  }

  public Set<String> names() {
    return byName.keySet();
  }

  public int size() {
    return byName.size();
  }

  public Stream<Field> stream() {
    return byName.values().stream();
  }

  @Override
  public Iterator<Field> iterator() {
    return byName.values().iterator();
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Fields fields && byName.equals(fields.byName);
  }

  @Override
  public int hashCode() {
    return byName.hashCode();
  }

  @Override
  public String toString() {
    return byName.values().toString();
  }
}
