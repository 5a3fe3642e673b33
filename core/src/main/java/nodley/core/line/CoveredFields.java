package nodley.core.line;

import java.util.LinkedHashMap;
import java.util.Optional;
import java.util.Set;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** What a verdict speaks of: all fields, or those that were asked for; never a secret's value. */
final class CoveredFields {

  private CoveredFields() {}

  /** True if the field, or what it is in, was asked for. */
  static boolean speaksOf(FieldState slot, Set<String> only) {
    for (FieldState here = slot; here != null; here = here.scope.owner().orElse(null)) {
      if (only.contains(path(here))) {
        return true;
      }
    }
    return false;
  }

  private static String path(FieldState slot) {
    return slot.scope.owner().map(owner -> path(owner) + ".").orElse("") + slot.field.name();
  }

  /**
   * The values that a verdict tells, without secrets.
   *
   * @param asSent true if blank rows stay where they were sent
   */
  static Values of(FieldStates root, Optional<Set<String>> only, boolean asSent) {
    if (only.isEmpty()) {
      return asSent ? root.valuesAsSent() : root.values(false);
    }
    LinkedHashMap<String, Value> values = new LinkedHashMap<>();
    for (FieldState slot : root.slots()) {
      boolean spoken =
          only.get().stream()
              .anyMatch(
                  path ->
                      path.equals(slot.field.name()) || path.startsWith(slot.field.name() + "."));
      if (spoken) {
        values.put(slot.field.name(), asSent ? slot.asSent() : slot.openly());
      }
    }
    return new Values(values);
  }
}
