package nodley.core.input;

import java.util.LinkedHashMap;
import java.util.Map;
import nodley.core.value.Raw;

/**
 * Applies a JSON Merge Patch (RFC 7396): null removes a member, an object is merged, anything else
 * replaces.
 */
public final class MergePatch {

  private MergePatch() {}

  /** The members of the target with those of the patch put into them. */
  public static Map<String, Raw> apply(Map<String, Raw> target, Map<String, Raw> patch) {
    Map<String, Raw> patched = new LinkedHashMap<>(target);
    patch.forEach(
        (name, raw) -> {
          switch (raw) {
            case Raw.Null _ -> patched.remove(name);
            case Raw.Members(Map<String, Raw> inside) -> {
              Map<String, Raw> before =
                  patched.get(name) instanceof Raw.Members(Map<String, Raw> members)
                      ? members
                      : Map.of();
              patched.put(name, new Raw.Members(apply(before, inside)));
            }
            default -> patched.put(name, raw);
          }
        });
    return patched;
  }
}
