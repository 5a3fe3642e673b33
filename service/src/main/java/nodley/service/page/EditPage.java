package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.submission.Answer;
import nodley.core.submission.Merging;
import nodley.core.submission.Verdict;
import nodley.core.text.Notation;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Browsers;
import nodley.service.caller.Caller;
import nodley.service.http.Body;
import nodley.service.http.SubmissionBodies;
import nodley.service.problem.Problem;
import nodley.service.submission.Displays;
import nodley.service.submission.Submissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.SubmissionInfo;
import nodley.store.record.Version;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /forms/{form}/{id}/edit}: shows the page that edits a record, processes its form where
 * there is no script, and merges what several people have changed. The page carries the values that
 * it came with, so that a conflict can be told field by field.
 */
@RestController
@RequestMapping("/forms/{form}/{id}/edit")
class EditPage {

  private static final Raw.Members NO_VALUES = Raw.of(Values.NONE);

  private final Submissions submissions;
  private final FormPages pages;
  private final Displays displays;
  private final AttemptLog log;
  private final SubmissionBodies bodies;
  private final Browsers browsers;

  EditPage(
      Submissions submissions,
      FormPages pages,
      Displays displays,
      AttemptLog log,
      SubmissionBodies bodies,
      Browsers browsers) {
    this.browsers = browsers;
    this.bodies = bodies;
    this.submissions = submissions;
    this.pages = pages;
    this.displays = displays;
    this.log = log;
  }

  @Needs(Right.SEE_AND_EDIT)
  @GetMapping
  ResponseEntity<byte[]> filled(
      Form form,
      @PathVariable String id,
      HttpServletRequest request,
      HttpServletResponse response) {
    StoredRecord record = submissions.record(form, id);
    return pages.opened(
        request,
        response,
        form,
        Optional.of(record),
        () -> Submissions.input(Raw.withRows(record.values())));
  }

  @Needs(Right.SEE_AND_EDIT)
  @PostMapping
  ResponseEntity<byte[]> edit(
      PublishedForm published,
      @PathVariable String id,
      HttpServletRequest request,
      HttpServletResponse response)
      throws IOException {
    return log.follow(
        request,
        published,
        "edit",
        attempt -> edited(request, response, published.form(), id, attempt));
  }

  private ResponseEntity<byte[]> edited(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      String id,
      AttemptRecorder attempt)
      throws IOException {
    Body body = bodies.read(request, form, () -> browsers.uploader(request, response));
    Input typed = pages.typed(form, body);
    StoredRecord before = submissions.record(form, id);
    Optional<ButtonPress> press = ButtonPress.of(form, typed);
    if (press.isPresent()) {
      attempt.dismiss();
      return pages.pressed(request, form, Optional.of(before), press.get());
    }
    Optional<ResponseEntity<byte[]>> kept =
        pages.kept(request, response, form, Optional.of(before), typed);
    if (kept.isPresent()) {
      attempt.dismiss();
      return kept.get();
    }
    Input input = withTheirs(form, typed, before);
    long known = version(input);
    SubmissionInfo sent = pages.sent(request, body, form, Mode.EDIT, typed);
    return pages.once(
        request,
        response,
        form,
        Optional.of(before),
        input,
        sent,
        attempt,
        () -> {
          if (known != before.version()) {
            return merge(request, response, form, before, known, input, sent, attempt);
          }
          try {
            return edited(request, response, form, before, input, sent, attempt);
          } catch (StoreException.Outdated e) {
            return merge(request, response, form, e.current(), known, input, sent, attempt);
          }
        });
  }

  private ResponseEntity<byte[]> edited(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      StoredRecord before,
      Input input,
      SubmissionInfo sent,
      AttemptRecorder attempt) {
    Answer<StoredRecord> answer =
        submissions.edit(
            form.name(),
            before.id(),
            before.version(),
            _ -> input,
            Caller.current(),
            sent,
            attempt);
    return switch (answer) {
      case Answer.Accepted<StoredRecord>(StoredRecord record) ->
          pages.onwards(form, Mode.EDIT, record, request, response);
      case Answer.Refused<StoredRecord>(Verdict verdict) ->
          pages.refused(request, form, Optional.of(before), input, verdict, List.of());
    };
  }

  /** What a person chose at a conflict: of these fields, what is kept. */
  private static Input withTheirs(Form form, Input typed, StoredRecord kept) {
    List<Raw> chosen =
        switch (typed.get(FormView.THEIRS).orElse(null)) {
          case Raw.Text one -> List.of(one);
          case Raw.Many(List<Raw> many) -> many;
          case null, default -> List.of();
        };
    Raw.Members values = new Raw.Members(typed.members());
    Raw.Members theirs = Raw.withRows(kept.values());
    for (Raw pointer : chosen) {
      values = Merging.withTheirs(form.fields(), values, theirs, pointer.shown());
    }
    return new Input(values.members(), typed.encoding());
  }

  /** The version that the page was opened with, from its hidden input. */
  private static long version(Input input) {
    return FormPages.version(input)
        .orElseThrow(
            () ->
                Problem.of(
                    428,
                    "version-needed",
                    "Precondition required: the version is missing",
                    "Open the record's edit page again, and send its form from there."));
  }

  /**
   * Somebody else saved meanwhile. What only one of the two changed is merged, and saved at once if
   * that is all; what both changed is shown, and what was typed stays, to be sent again or not.
   */
  private ResponseEntity<byte[]> merge(
      HttpServletRequest request,
      HttpServletResponse response,
      Form form,
      StoredRecord theirs,
      long known,
      Input input,
      SubmissionInfo sent,
      AttemptRecorder attempt) {
    Caller caller = Caller.current();
    Values yours = judged(form, Optional.of(theirs), input, caller).values();
    // What two first saves began from is the blank form, with what stands there by default.
    Optional<Raw.Members> base =
        known == 0
            ? Optional.of(
                Raw.of(
                    judged(form, Optional.empty(), Submissions.input(NO_VALUES), caller).values()))
            : submissions.version(form, theirs.id(), known).map(Version::kept);
    Merging.Merged merged =
        Merging.merge(
            form.fields(),
            base.orElse(NO_VALUES),
            Raw.withRows(theirs.values()),
            Merging.numbered(form.fields(), Raw.withRows(yours), new Raw.Members(input.members())));
    Input both = Submissions.input(Merging.withoutComputed(form.fields(), merged.values()));
    // A secret that was typed is not among the values; it is not thrown away without a word.
    boolean secret = form.everyField().stream().anyMatch(it -> it.field().isSecret());
    if (merged.conflicts().isEmpty() && base.isPresent() && !secret) {
      try {
        return edited(request, response, form, theirs, both, sent, attempt);
      } catch (StoreException.Outdated e) {
        return merge(request, response, form, e.current(), theirs.version(), both, sent, attempt);
      }
    }
    Verdict verdict = judged(form, Optional.of(theirs), both, caller);
    attempt.stopped(verdict, "outdated");
    FormView view =
        pages.view(
            request,
            form,
            Optional.of(theirs),
            verdict.values(),
            verdict.errors(),
            List.of(),
            differences(form, merged.conflicts(), caller),
            pages.progress(request, form, Optional.of(theirs), input, verdict.errors()));
    return pages.page(HttpStatus.PRECONDITION_FAILED, view, "");
  }

  private Verdict judged(Form form, Optional<StoredRecord> theirs, Input input, Caller caller) {
    return submissions.check(
        form, input, submissions.context(caller, theirs), caller, Optional.empty());
  }

  private List<FormView.Difference> differences(
      Form form, List<Merging.Conflict> conflicts, Caller caller) {
    List<FormView.Difference> differences = new ArrayList<>();
    for (Merging.Conflict conflict : conflicts) {
      differences.add(
          new FormView.Difference(
              conflict.pointer(),
              conflict.label(),
              display(form, conflict.field(), conflict.theirs(), caller),
              display(form, conflict.field(), conflict.yours(), caller)));
    }
    if (differences.isEmpty()) {
      differences.add(
          new FormView.Difference(
              "",
              FormPages.word(form, "page.all-fields"),
              FormPages.word(form, "page.as-yours"),
              FormPages.word(form, "page.as-theirs")));
    }
    return differences;
  }

  private String display(Form form, Field field, Value value, Caller caller) {
    String text = displays.of(caller).in(Notation.of(form.language())).of(field, value);
    return text.isEmpty() ? FormPages.word(form, "page.nothing") : text;
  }
}
