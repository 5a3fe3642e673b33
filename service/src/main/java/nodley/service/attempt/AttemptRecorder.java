package nodley.service.attempt;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import nodley.core.form.Form;
import nodley.core.submission.Answer;
import nodley.core.submission.Steps;
import nodley.core.submission.Verdict;
import nodley.core.value.Values;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.store.attempt.Attempt;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;

/**
 * Collects what the log of attempts says about one submission, while it is processed. For one
 * thread, and then for the one that writes it.
 */
public final class AttemptRecorder {

  private static final long NANOS = 1_000;

  /** Maximum number of errors that an attempt keeps. */
  private static final int MOST_ERRORS = 100;

  /** Characters of values that are kept of a submission of the service's own. */
  private static final int VALUES_OF_OURS = 16_384;

  private final String id;
  private final Form form;
  private final int revision;
  private final String mode;
  private final long at;
  private final String from;
  private final String by;
  private final String door;
  private final int valuesKept;
  private final Steps steps = new Steps();
  private String verdict = "failed";
  private String problem = "failed";
  private String detail = "";
  private String record = "";

  /** What was judged last, if anything was; its values are masked when it is told. */
  private Optional<Verdict> judged = Optional.empty();

  private List<Map<String, Object>> errors = List.of();
  private Map<String, Object> values = Map.of();
  private int leftOut;
  private String account = "";
  private long handedOver;
  private long waited;
  private boolean isLogged;
  private boolean dismissed;

  AttemptRecorder(
      String id,
      Form form,
      int revision,
      String mode,
      long at,
      String from,
      String by,
      String door,
      int valuesKept) {
    this.valuesKept = valuesKept;
    this.id = id;
    this.form = form;
    this.revision = revision;
    this.mode = mode;
    this.at = at;
    this.from = from;
    this.by = by;
    this.door = door;
  }

  /** A submission of the service's own, which came by no request. */
  public static AttemptRecorder within(PublishedForm form, String by) {
    return new AttemptRecorder(
        UUID.randomUUID().toString(),
        form.form(),
        form.revision(),
        "add",
        System.currentTimeMillis(),
        "",
        by,
        "service",
        VALUES_OF_OURS);
  }

  /** Returns the id that the attempt is logged under. */
  public String id() {
    return id;
  }

  /** Returns the stages that have run so far, with their durations. */
  public Steps steps() {
    return steps;
  }

  String form() {
    return form.name();
  }

  /** What was judged, and how. */
  public void judged(Verdict verdict) {
    judged = Optional.of(verdict);
    this.verdict = verdict.word();
    problem = verdict.isAccepted() ? "" : "refused";
  }

  /** The answer to an add or an edit. */
  public <R> Answer<R> answered(Answer<R> answer) {
    if (answer instanceof Answer.Refused<R>(Verdict refused)) {
      // Its sentences are made, or an index has refused at the last moment.
      steps.done("answer");
      isLogged = false;
      record = "";
      judged(refused);
    }
    return answer;
  }

  /** It was judged, but did not come to be kept: the problem is shown, and the person is asked. */
  public void stopped(Verdict judged, String why) {
    judged(judged);
    verdict = "failed";
    problem = why;
  }

  /** It was no submission after all, and nothing is to be told of it. */
  public void dismiss() {
    dismissed = true;
  }

  boolean isDismissed() {
    return dismissed;
  }

  /** It is about to be kept, with these values; the one writer is not to lose time with words. */
  public void keeping(Values tidied) {
    MaskedValues masked = new MaskedValues(form, tidied, valuesKept);
    values = masked.values();
    leftOut = masked.leftOut();
    account = Json.text(Account.of(this));
    judged = Optional.empty();
    steps.skip();
    handedOver = System.nanoTime();
  }

  /** It is kept, and this is written in the same transaction. */
  public Attempt kept(StoredRecord kept) {
    record = kept.id();
    verdict = "accepted";
    problem = "";
    isLogged = true;
    waited = (System.nanoTime() - handedOver) / NANOS;
    return attempt("[]", account);
  }

  /** A program fell into the page's trap: nothing of what it sent is kept, here either. */
  public void trapped() {
    verdict = "trapped";
    problem = "";
  }

  /** It was accepted before, and got that answer again. */
  public void repeated(String kept) {
    record = kept;
    verdict = "repeated";
    problem = "";
  }

  /** It got a problem for an answer. A verdict that was reached stays. */
  void failed(Problem failure) {
    problem = failure.members().get("type").toString().replace("/problems/", "");
    if (!problem.equals("refused")) {
      verdict = "failed";
      detail = String.valueOf(failure.members().getOrDefault("detail", ""));
    }
  }

  /** True if it is in the log already, as it was before its commit. */
  boolean isLogged() {
    return isLogged && verdict.equals("accepted");
  }

  /**
   * The attempt as it stands. The thread that answers has the time for this, the writer has not.
   */
  Attempt told() {
    judged.ifPresent(this::mask);
    return attempt(Json.text(errors), Json.text(Account.of(this)));
  }

  private void mask(Verdict verdict) {
    MaskedValues masked = new MaskedValues(form, verdict.values(), valuesKept);
    values = masked.values();
    leftOut = masked.leftOut();
    errors = verdict.errors().stream().limit(MOST_ERRORS).map(masked::error).toList();
  }

  private Attempt attempt(String errors, String account) {
    return new Attempt(
        id,
        form.name(),
        revision,
        mode,
        at,
        steps.nanos() / NANOS,
        waited,
        record,
        verdict,
        problem,
        errors,
        account);
  }

  /** What is stored of an attempt as JSON. Null stands for what there is not, and is left out. */
  private record Account(
      String from,
      String by,
      String door,
      String detail,
      Map<String, Object> values,
      Integer leftOut,
      List<StepJson> steps) {

    static Account of(AttemptRecorder attempt) {
      return new Account(
          attempt.from,
          attempt.by,
          attempt.door,
          attempt.detail.isEmpty() ? null : attempt.detail,
          attempt.values,
          attempt.leftOut > 0 ? attempt.leftOut : null,
          attempt.steps.list().stream().map(StepJson::of).toList());
    }
  }

  private record StepJson(String step, String about, long micros) {

    static StepJson of(Steps.Step step) {
      return new StepJson(
          step.name(), step.about().isEmpty() ? null : step.about(), step.nanos() / NANOS);
    }
  }
}
