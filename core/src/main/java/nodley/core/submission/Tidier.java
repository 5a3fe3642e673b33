package nodley.core.submission;

import nodley.core.value.Value;

/** Second stage: tidies each value as its field says. A value that then is none is rejected. */
final class Tidier {

  private Tidier() {}

  static Tidied tidy(Bound bound) {
    tidy(bound.root(), bound.problems());
    return new Tidied(bound.request(), bound.root(), bound.problems());
  }

  private static void tidy(FieldStates siblings, Problems problems) {
    for (FieldState state : siblings.states()) {
      Value tidied = Tidy.of(state.field, state.value);
      // Where there is nothing to tidy, it is the same object.
      if (tidied != state.value) {
        state.value = tidied;
        if (tidied instanceof Value.Unread) {
          problems.reject(state, "bad-input");
        }
      }
      for (FieldStates nested : state.nested) {
        tidy(nested, problems);
      }
    }
  }
}
