package nodley.core.submission;

import java.util.List;
import java.util.Optional;
import nodley.core.expression.Path;
import nodley.core.form.Choice;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.SourceColumn;
import nodley.core.form.SourceOptions;
import nodley.core.form.Type;
import nodley.core.form.Unique;
import nodley.core.value.Value;

/**
 * Fifth stage: asks the store whether referenced records and files are there, and whether unique
 * values are taken or held; and databases of others, where a form names them. Only for fields
 * without an error so far; all unique values are asked about at once.
 */
final class LookupStage {

  private final Request request;
  private final FieldStates root;
  private final Problems problems;
  private final OptionCheck options;
  private final FileLookup files;
  private final boolean live;

  /** The first database that did not answer; null if there is none. */
  private String unanswered;

  private LookupStage(Validated validated, boolean live) {
    this.live = live;
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
    new LookupStage(validated, live).lookUp();
    return new LookedUp(validated.request(), validated.root(), validated.problems());
  }

  private void lookUp() {
    Form form = request.form();
    for (Path path : form.fields().references()) {
      root.each(path, this::lookUpReference);
    }
    if (!form.uniques().isEmpty()) {
      lookUpTaken(UniqueKeys.of(request, root).toLookUp(live, request::covers, problems));
    }
    // What is wrong anyway is told; only what is right so far waits for who did not answer.
    if (unanswered != null && !live && !problems.areAny()) {
      request.lookups().unanswered(unanswered);
    }
  }

  private void lookUpReference(FieldState state) {
    if (state.error != null || state.value == Value.BLANK || !request.covers(state)) {
      return;
    }
    if (state.field.type() == Type.FILE) {
      files.lookUp(state);
    } else if (state.field.refersTo().isPresent()) {
      lookUpRecord(state);
    } else {
      boolean changed = request.isAdd() || !state.value.equals(state.stored);
      if (changed) {
        state.field.exists().ifPresent(column -> lookUpExists(state, column));
      }
      if (changed || !options.isUnchanged(state)) {
        state.field.options().source().ifPresent(source -> lookUpOption(state, source));
      }
    }
  }

  private void lookUpExists(FieldState state, SourceColumn column) {
    switch (request.lookups().inSource(column, state.value, false)) {
      case PRESENT -> {}
      case ABSENT -> problems.reject(state, "no-such-record");
      case UNKNOWN -> leaveOpen(state, column);
    }
  }

  private void lookUpOption(FieldState state, SourceOptions source) {
    Optional<Optional<Choice>> found = request.lookups().option(source, state.value.shown());
    if (found.isEmpty()) {
      leaveOpen(state, source.value());
    } else if (found.get().filter(it -> options.meetsWhere(state, it.marks())).isEmpty()) {
      problems.reject(state, "not-an-option");
    }
  }

  private void leaveOpen(FieldState state, SourceColumn column) {
    unanswered = unanswered == null ? column.source() : unanswered;
    problems.leaveOpen(state);
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
    lookUpTakenElsewhere(keys);
    keys.rejectHeld(request.lookups().held(request.form(), keys.list()), problems);
  }

  /** Asks other tables about unique values that no record here has. */
  private void lookUpTakenElsewhere(UniqueKeys keys) {
    for (int i = 0; i < keys.list().size(); i++) {
      Unique unique = keys.list().get(i).unique();
      FieldState state = keys.states().get(i);
      boolean asks = request.isAdd() || !state.value.equals(state.stored);
      if (unique.in().isEmpty() || state.error != null || !asks) {
        continue;
      }
      SourceColumn column = unique.in().get();
      switch (request.lookups().inSource(column, state.value, unique.ignoreCase())) {
        case PRESENT -> problems.rejectTaken(state, unique, List.of());
        case ABSENT -> {}
        case UNKNOWN -> leaveOpen(state, column);
      }
    }
  }
}
