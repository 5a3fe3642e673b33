package nodley.core.value;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The values of one submission or record, by field name, in the order of the form. */
public record Values(Map<String, Value> byName) {

  public static final Values NONE = new Values(Map.of());

  public Values {
    byName = Collections.unmodifiableMap(new LinkedHashMap<>(byName));
  }

  /** The value of a field; one that is not there is blank. */
  public Value get(String name) {
    return byName.getOrDefault(name, Value.BLANK);
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
    return byName.values().stream().allMatch(Value::isBlank);
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
}
