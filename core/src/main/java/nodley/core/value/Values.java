package nodley.core.value;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The values of one submission or record, by field name, in the order of the form; immutable. */
public final class Values {

  public static final Values NONE = new Values(Map.of());

  private final Map<String, Value> byName;

  public Values(Map<String, Value> byName) {
    this(new LinkedHashMap<>(byName), true);
  }

  private Values(LinkedHashMap<String, Value> owned, boolean ignored) {
    byName = Collections.unmodifiableMap(owned);
  }

  /** Takes the map over without copying it; nobody else may hold it. */
  public static Values owning(LinkedHashMap<String, Value> map) {
    return new Values(map, true);
  }

  public Map<String, Value> byName() {
    return byName;
  }

  /** The value of a field; one that is not there is blank. */
  public Value get(String name) {
    Value value = byName.get(name);
    return value == null ? Value.BLANK : value;
  }

  /** The value of a field behind the names of the groups around it; blank if it is not there. */
  public Value at(List<String> path) {
    Values here = this;
    for (String group : path.subList(0, path.size() - 1)) {
      here = here.get(group) instanceof Value.Group(Values inside) ? inside : NONE;
    }
    return here.get(path.getLast());
  }

  /** True if no field has a value. */
  public boolean isBlank() {
    for (Value value : byName.values()) {
      if (!value.isBlank()) {
        return false;
      }
    }
    return true;
  }

  /** The members of a JSON object; blank values are left out. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    byName.forEach(
        (name, value) -> {
          if (!value.isBlank()) {
            json.put(name, value.toJson());
          }
        });
    return json;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Values values && byName.equals(values.byName);
  }

  @Override
  public int hashCode() {
    return byName.hashCode();
  }

  @Override
  public String toString() {
    return byName.toString();
  }
}
