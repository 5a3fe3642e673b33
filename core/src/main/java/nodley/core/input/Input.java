package nodley.core.input;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Raw;

/**
 * A submission as it was sent: raw values by name. Immutable.
 *
 * @param encoding how it was sent; form encoding cannot tell an unticked box from an absent one
 */
public record Input(Map<String, Raw> members, Encoding encoding) {

  /** No values. */
  public static final Input NOTHING = new Input(Map.of(), Encoding.JSON);

  /** How a submission was encoded. */
  public enum Encoding {
    JSON,
    FORM
  }

  public Input {
    members = new LinkedHashMap<>(members);
  }

  /** Returns what was sent under a name; empty if nothing was. */
  public Optional<Raw> get(String name) {
    return Optional.ofNullable(members.get(name));
  }
}
