package nodley.core.submission;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import nodley.core.form.Ask;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.name.Pointer;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/**
 * Sixth stage: asks services outside. First about single fields, all at the same time, and only
 * about values without an error so far; then, if nothing has an error, about the submission as a
 * whole. In an edit, a field is not asked about if neither it nor what is sent along has changed.
 */
final class AskStage {

  private final Request request;
  private final FieldStates root;
  private final Problems problems;
  private final boolean live;
  private final Map<String, Proposal> proposals = new LinkedHashMap<>();

  private AskStage(LookedUp lookedUp, boolean live) {
    this.request = lookedUp.request();
    this.root = lookedUp.root();
    this.problems = lookedUp.problems();
    this.live = live;
  }

  /**
   * Asks what only others know.
   *
   * @param live true for a live check: what is asked at submission only is then left open
   */
  static Asked ask(LookedUp lookedUp, boolean live) {
    AskStage stage = new AskStage(lookedUp, live);
    if (!stage.request.form().asks().isEmpty()) {
      stage.askAboutFields();
      stage.askAboutAll();
    }
    return new Asked(
        stage.request, stage.root, stage.problems, List.copyOf(stage.proposals.values()));
  }

  private void askAboutFields() {
    List<AskQuestion> questions = new ArrayList<>();
    List<FieldState> states = new ArrayList<>();
    for (Ask ask : request.form().asks()) {
      FieldState state = ask.at().map(root::at).orElse(null);
      if (state == null || !isToAsk(ask, state)) {
        continue;
      }
      if (live && !ask.early() || sendsErrors(ask)) {
        problems.leaveOpen(state);
      } else {
        questions.add(question(ask));
        states.add(state);
      }
    }
    List<AskReply> replies = replies(questions);
    for (int i = 0; i < replies.size(); i++) {
      hear(questions.get(i).ask(), states.get(i), replies.get(i));
    }
  }

  private boolean isToAsk(Ask ask, FieldState state) {
    return !state.hidden
        && state.value != Value.BLANK
        && state.error == null
        && request.covers(state)
        && (request.isAdd() || sent(ask).stream().anyMatch(AskStage::isChanged));
  }

  private boolean sendsErrors(Ask ask) {
    return sent(ask).stream().anyMatch(FieldState::hasError);
  }

  /** Returns the fields that are sent along, with the one that it is about. */
  private List<FieldState> sent(Ask ask) {
    return ask.sends().isPresent()
        ? ask.sends().get().stream().map(root::at).filter(Objects::nonNull).toList()
        : List.of(root.states());
  }

  private static boolean isChanged(FieldState state) {
    return !state.fullValue().equals(state.stored);
  }

  private void askAboutAll() {
    List<Ask> asks = request.form().asks().stream().filter(Ask::isOfForm).toList();
    if (asks.isEmpty()) {
      return;
    }
    if (live) {
      problems.leaveFormOpen();
      return;
    }
    if (problems.areAny()) {
      return;
    }
    List<AskReply> replies = replies(asks.stream().map(this::question).toList());
    for (int i = 0; i < replies.size(); i++) {
      hear(asks.get(i), null, replies.get(i));
    }
  }

  private AskQuestion question(Ask ask) {
    Map<String, Object> all = request.form().fields().known(root.values(false)).toJson();
    return new AskQuestion(
        ask,
        request.context().mode(),
        request.context().record(),
        ask.sends().map(paths -> PickedValues.of(all, paths)).orElse(all));
  }

  private List<AskReply> replies(List<AskQuestion> questions) {
    return questions.isEmpty()
        ? List.of()
        : request.lookups().ask(request.form(), request.context(), questions);
  }

  /**
   * Takes in a reply.
   *
   * @param about the field that the question was about; null for the submission as a whole
   */
  private void hear(Ask ask, FieldState about, AskReply reply) {
    switch (reply) {
      case AskReply.Answered(List<AskReply.Objection> objections, Map<String, Raw> fill) -> {
        for (AskReply.Objection objection : objections) {
          FieldState at = objection.pointer().map(this::find).orElse(null);
          problems.rejectAsked(ask, at == null ? about : at, objection);
        }
        fill.forEach((name, raw) -> propose(about, name, raw));
      }
      case AskReply.Unanswered(boolean isRefused) -> {
        if (isRefused && !live) {
          problems.rejectUnanswered(ask, about);
        } else if (about != null) {
          problems.leaveOpen(about);
        }
      }
    }
  }

  /** Returns the field that a pointer points at; null if there is none on the page. */
  private FieldState find(String pointer) {
    String wanted = pointer.startsWith(Pointer.ROOT) ? pointer : Pointer.ROOT + pointer;
    return find(root, wanted);
  }

  private static FieldState find(FieldStates siblings, String pointer) {
    for (FieldState state : siblings.states()) {
      if (state.hidden || !state.field.isOnPages()) {
        continue;
      }
      String here = state.pointer();
      if (here.equals(pointer)) {
        return state;
      }
      if (pointer.startsWith(here + "/")) {
        for (FieldStates nested : state.nested) {
          FieldState found = find(nested, pointer);
          if (found != null) {
            return found;
          }
        }
      }
    }
    return null;
  }

  /** What cannot be filled in by a person is not proposed either, nor what is in rows. */
  private void propose(FieldState about, String name, Raw raw) {
    Form form = request.form();
    FieldState state =
        form.fields().columns().stream()
            .filter(it -> it.dotted().equals(name))
            .map(it -> root.at(it.path()))
            .findFirst()
            .orElse(null);
    if (about == null || state == null || state == about || !isProposable(state)) {
      return;
    }
    Value value =
        Tidy.of(
            state.field,
            new ValueReader(Input.Encoding.JSON, request.context().zone(form))
                .of(state.field, raw));
    if (!value.isBlank() && !(value instanceof Value.Unread)) {
      String detail = problems.filledIn(about);
      proposals.putIfAbsent(state.pointer(), new Proposal(state.pointer(), value, detail));
    }
  }

  private static boolean isProposable(FieldState state) {
    Field field = state.field;
    return !state.hidden
        && field.isOnPages()
        && field.type().isScalar()
        && !field.isSecret()
        && !field.presence().editable().isNever();
  }
}
