package nodley.core.input;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Raw;

/**
 * A submission as it arrived: raw values by name.
 *
 * @param door how it came; form encoding cannot tell an unticked box from an absent one
 */
public record Input(Map<String, Raw> members, Encoding door) {

  /** How a submission came in. */
  public enum Encoding {
    JSON,
    FORM
  }

  public Input {
    members = new LinkedHashMap<>(members);
  }

  public Optional<Raw> get(String name) {
    return Optional.ofNullable(members.get(name));
  }
}
