package nodley.core.submission;

import java.util.List;
import java.util.Set;
import nodley.core.form.Type;

/** Last stage of a submission: saves the values if nothing has an error, and builds the answer. */
final class SaveStage {

  private SaveStage() {}

  /**
   * Saves. The sink is called once, and only if there is no error; a conflict that it finds at the
   * last moment becomes errors of fields.
   */
  static <R> Answer<R> save(Asked asked, RecordSink<R> sink) {
    Request request = asked.request();
    FieldStates root = asked.root();
    Problems problems = asked.problems();
    if (problems.areAny()) {
      return new Answer.Refused<>(Verdicts.of(asked));
    }
    UniqueKeys keys = UniqueKeys.of(request, root);
    return switch (sink.keep(root.values(), keys.list())) {
      case RecordSink.Kept<R>(R record) -> new Answer.Accepted<>(record);
      case RecordSink.Clash<R>(Set<Integer> taken, Set<Integer> held, Set<String> missing) -> {
        for (String path : missing) {
          for (FieldState state :
              root.each(request.form().fields().path(List.of(path.split("\\."))))) {
            if (!state.value.isBlank()) {
              problems.reject(
                  state, state.field.type() == Type.FILE ? "no-such-upload" : "no-such-record");
            }
          }
        }
        keys.rejectTaken(taken, problems);
        keys.rejectHeld(held, problems);
        yield new Answer.Refused<>(Verdicts.of(asked));
      }
    };
  }
}
