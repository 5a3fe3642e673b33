package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.Optional;
import java.util.Set;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Selects what a verdict covers: all fields, or those that were asked for; never a secret's value.
 */
final class CoveredFields {

  private CoveredFields() {}

  /** Returns true if the field, or a group or rows that it is in, was asked for. */
  static boolean covers(FieldState state, Set<String> only) {
    for (FieldState here = state; here != null; here = here.siblings.owner().orElse(null)) {
      if (only.contains(path(here))) {
        return true;
      }
    }
    return false;
  }

  /** The dotted path of a field. */
  static String path(FieldState state) {
    return state.siblings.owner().map(owner -> path(owner) + ".").orElse("") + state.field.name();
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
    for (FieldState state : root.states()) {
      if (isAskedFor(state.field.name(), only.get())) {
        values.put(state.field.name(), asSent ? state.asSent() : state.publicValue());
      }
    }
    return new Values(values);
  }

  /** Returns true if the field, or something inside it, was asked for. */
  private static boolean isAskedFor(String name, Set<String> only) {
    for (String path : only) {
      if (path.startsWith(name)
          && (path.length() == name.length() || path.charAt(name.length()) == '.')) {
        return true;
      }
    }
    return false;
  }
}
