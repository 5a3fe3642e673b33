package nodley.core.value;

import java.util.Collections;
import java.util.LinkedHashMap;
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
