package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.submission.Answer;
import nodley.core.submission.Verdict;
import nodley.core.value.Values;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Browsers;
import nodley.service.caller.Caller;
import nodley.service.http.Body;
import nodley.service.http.SubmissionBodies;
import nodley.service.submission.Submissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.SubmissionInfo;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /forms/{form}/new}: shows the page that adds a record, and processes its form where there
 * is no script; with script the page sends to {@code /api} instead. Also decides what fell into the
 * trap for programs that fill in every page.
 */
@RestController
@RequestMapping("/forms/{form}/new")
class AddPage {

  private final Submissions submissions;
  private final FormPages pages;
  private final AttemptLog log;
  private final SubmissionBodies bodies;
  private final Browsers browsers;
  private final Trap trap;

  AddPage(
      Submissions submissions,
      FormPages pages,
      AttemptLog log,
      SubmissionBodies bodies,
      Browsers browsers,
      Trap trap) {
    this.browsers = browsers;
    this.trap = trap;
    this.bodies = bodies;
    this.submissions = submissions;
    this.pages = pages;
    this.log = log;
  }

  @Needs(Right.ADD)
  @GetMapping
  ResponseEntity<byte[]> blank(
      Form form, HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    boolean isThere =
        form.isOneEach()
            && !caller.person().isEmpty()
            && submissions.only(form, caller).isPresent();
    if (form.isOne() || isThere) {
      return FormPages.onwards("/forms/" + form.name() + "/edit");
    }
    return filled(form, request, response);
  }

  /** The page as it opens, with what its address fills in. */
  ResponseEntity<byte[]> filled(
      Form form, HttpServletRequest request, HttpServletResponse response) {
    return pages.opened(
        request,
        response,
        form,
        Optional.empty(),
        () -> Prefill.of(form, request, input -> check(form, input).values()));
  }

  private Verdict check(Form form, Input input) {
    Caller caller = Caller.current();
    return submissions.check(
        form, input, submissions.context(caller, Optional.empty()), caller, Optional.empty());
  }

  @Needs(Right.ADD)
  @PostMapping
  ResponseEntity<byte[]> add(
      PublishedForm published, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    return log.follow(
        request, published, "add", attempt -> added(request, response, published.form(), attempt));
  }

  private ResponseEntity<byte[]> added(
      HttpServletRequest request, HttpServletResponse response, Form form, AttemptRecorder attempt)
      throws IOException {
    Body body = bodies.read(request, form, () -> browsers.uploader(request, response));
    Input input = pages.typed(form, body);
    Optional<ButtonPress> press = ButtonPress.of(form, input);
    if (press.isPresent()) {
      attempt.dismiss();
      return pages.pressed(request, form, Optional.empty(), press.get());
    }
    Optional<ResponseEntity<byte[]>> kept =
        pages.kept(request, response, form, Optional.empty(), input);
    if (kept.isPresent()) {
      attempt.dismiss();
      return kept.get();
    }
    SubmissionInfo sent = pages.sent(request, body, form, Mode.ADD, input);
    Optional<Values> trapped = trapped(form, input, sent);
    if (trapped.isPresent()) {
      attempt.trapped();
      return pages.onwards(form, Mode.ADD, StoredRecord.madeUp(trapped.get()), request, response);
    }
    return pages.once(
        request,
        response,
        form,
        Optional.empty(),
        input,
        sent,
        attempt,
        () -> {
          try {
            return added(request, response, form, input, sent, attempt);
          } catch (StoreException.Outdated e) {
            return overtaken(request, form, e.current(), input, attempt);
          }
        });
  }

  /**
   * The values of what fell into the trap. Whoever presses the button of a page that has just come
   * is told what is missing.
   */
  private Optional<Values> trapped(Form form, Input input, SubmissionInfo sent) {
    boolean filledIn = trap.isFilledIn(form, input);
    // Whoever goes on with a draft has spent their time before.
    boolean isTooSoon = sent.draft().isEmpty() && trap.isTooSoon(form, input);
    if (!filledIn && !isTooSoon) {
      return Optional.empty();
    }
    Verdict verdict = check(form, input);
    return filledIn || verdict.isAccepted() ? Optional.of(verdict.values()) : Optional.empty();
  }

  private ResponseEntity<byte[]> added(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      Input input,
      SubmissionInfo sent,
      AttemptRecorder attempt) {
    return switch (submissions.add(form.name(), input, Caller.current(), sent, attempt)) {
      case Answer.Accepted<StoredRecord>(StoredRecord record) ->
          pages.onwards(form, Mode.ADD, record, request, response);
      case Answer.Refused<StoredRecord>(Verdict verdict) ->
          pages.refused(request, form, Optional.empty(), input, verdict, List.of());
    };
  }

  /** Somebody else made the only record at this very moment: what was typed can go in its place. */
  private ResponseEntity<byte[]> overtaken(
      HttpServletRequest request,
      Form form,
      StoredRecord theirs,
      Input input,
      AttemptRecorder attempt) {
    Caller caller = Caller.current();
    Verdict verdict =
        submissions.check(
            form,
            input,
            submissions.context(caller, Optional.of(theirs)),
            caller,
            Optional.empty());
    attempt.stopped(verdict, "outdated");
    FormView view =
        pages.view(
            request,
            form,
            Optional.of(theirs),
            verdict.values(),
            verdict.errors(),
            List.of(FormPages.word(form, "page.conflict")),
            List.of(),
            pages.progress(request, form, Optional.of(theirs), input, verdict.errors()));
    return pages.page(HttpStatus.PRECONDITION_FAILED, view, "");
  }
}
