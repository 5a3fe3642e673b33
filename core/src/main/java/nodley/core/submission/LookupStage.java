package nodley.core.submission;

import java.util.Optional;
import nodley.core.expression.Path;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.value.Value;

/**
 * Fifth stage: asks the store whether referenced records and files are there, and whether unique
 * values are taken or held. Only for fields without an error so far; all unique values are asked
 * about at once.
 */
final class LookupStage {

  private final Request request;
  private final FieldStates root;
  private final Problems problems;
  private final OptionCheck options;
  private final FileLookup files;

  private LookupStage(Validated validated) {
    this.request = validated.request();
    this.root = validated.root();
    this.problems = validated.problems();
    this.options = new OptionCheck(request, new Evaluator(request, problems));
    this.files = new FileLookup(request, problems);
  }

  /**
   * Looks up what only a store knows.
   *
   * @param live true for a live check: a unique with {@code early: false} is then left open
   */
  static LookedUp lookUp(Validated validated, boolean live) {
    new LookupStage(validated).lookUp(live);
    return new LookedUp(validated.request(), validated.root(), validated.problems());
  }

  private void lookUp(boolean live) {
    Form form = request.form();
    for (Path path : form.fields().references()) {
      root.each(path, this::lookUpReference);
    }
    if (!form.uniques().isEmpty()) {
      lookUpTaken(UniqueKeys.of(request, root).toLookUp(live, request::covers, problems));
    }
  }

  private void lookUpReference(FieldState state) {
    if (state.error != null || state.value == Value.BLANK || !request.covers(state)) {
      return;
    }
    if (state.field.type() == Type.FILE) {
      files.lookUp(state);
    } else {
      lookUpRecord(state);
    }
  }

  private void lookUpRecord(FieldState state) {
    Optional<Optional<Display.Found>> record =
        request
            .lookups()
            .record(state.field.refersTo().orElseThrow(), ((Value.Text) state.value).text());
    if (record.isEmpty()) {
      problems.leaveOpen(state);
    } else if (record.get().isEmpty()) {
      problems.reject(state, "no-such-record");
    } else if (!(state.value.equals(state.stored) && options.isUnchanged(state))
        && !options.meetsWhere(state, record.get().get().values())) {
      problems.reject(state, "not-an-option", options.firstNotOffered(state));
    }
  }

  private void lookUpTaken(UniqueKeys keys) {
    if (keys.list().isEmpty()) {
      return;
    }
    keys.rejectTaken(keys.duplicateRows(), problems);
    request
        .lookups()
        .taken(request.form(), keys.list(), request.context().record())
        .ifPresentOrElse(
            taken -> keys.rejectTaken(taken, problems),
            () -> keys.states().forEach(problems::leaveOpen));
    keys.rejectHeld(request.lookups().held(request.form(), keys.list()), problems);
  }
}
