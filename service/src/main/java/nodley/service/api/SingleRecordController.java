package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.input.MergePatch;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.http.RecordReply;
import nodley.service.http.Repeatable;
import nodley.service.http.Reply;
import nodley.service.http.SubmissionBodies;
import nodley.service.problem.Problem;
import nodley.service.submission.Displays;
import nodley.service.submission.Submissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.SubmissionInfo;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/record}: the record of a form that has one only. Its first save needs
 * {@code If-None-Match: *} (RFC 9110, section 13.1.2), so that two callers cannot both create it.
 */
@RestController
@RequestMapping("/api/forms/{form}/record")
class SingleRecordController {

  private final Submissions submissions;
  private final Displays displays;
  private final Repeatable repeatable;
  private final Edits edits;
  private final AttemptLog log;
  private final Bodies bodies;
  private final SubmissionBodies submissionBodies;

  SingleRecordController(
      Submissions submissions,
      Displays displays,
      Repeatable repeatable,
      Edits edits,
      AttemptLog log,
      Bodies bodies,
      SubmissionBodies submissionBodies) {
    this.submissionBodies = submissionBodies;
    this.bodies = bodies;
    this.submissions = submissions;
    this.displays = displays;
    this.repeatable = repeatable;
    this.edits = edits;
    this.log = log;
  }

  @Needs(Right.SEE)
  @GetMapping
  void get(PublishedForm published, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Caller caller = Caller.current();
    Form form = only(published).form();
    Query.of(request);
    StoredRecord record = submissions.only(form, caller).orElseThrow(() -> notYet(form));
    Reply.write(
        Reply.json(
            Reply.status(200).header("ETag", RecordReply.tag(record)),
            RecordReply.of(form, record, caller, displays.of(caller))),
        response);
  }

  @Needs(Right.EDIT)
  @PutMapping
  ResponseEntity<byte[]> whole(PublishedForm published, HttpServletRequest request)
      throws IOException {
    return save(
        published,
        request,
        () -> {
          Body body = submissionBodies.read(request, published.form());
          Input input = bodies.submission(body);
          return new Change(body.identity(), _ -> input);
        });
  }

  @Needs(Right.EDIT)
  @PatchMapping
  ResponseEntity<byte[]> part(PublishedForm published, HttpServletRequest request)
      throws IOException {
    return save(
        published,
        request,
        () -> {
          Body body = bodies.readPatch(request);
          Input patch = bodies.submission(body);
          return new Change(
              body.identity(),
              before ->
                  new Input(
                      MergePatch.apply(before.members(), patch.members()), Input.Encoding.JSON));
        });
  }

  /** What came, and what it makes of the record as it is. */
  private record Change(byte[] body, UnaryOperator<Input> of) {}

  private interface Reading {
    Change read() throws IOException;
  }

  private ResponseEntity<byte[]> save(
      PublishedForm published, HttpServletRequest request, Reading reading) throws IOException {
    Form form = only(published).form();
    boolean first = "*".equals(header(request, "If-None-Match"));
    return log.follow(
        request,
        published,
        first ? "add" : "edit",
        attempt -> {
          Query.of(request, "page", "draft");
          Change change = reading.read();
          if (first) {
            return make(form, request, change, attempt);
          }
          StoredRecord record =
              submissions.only(form, Caller.current()).orElseThrow(() -> unmade(form, request));
          return edits.answer(form, record.id(), request, change.body(), change.of(), attempt);
        });
  }

  private ResponseEntity<byte[]> make(
      Form form, HttpServletRequest request, Change change, AttemptRecorder attempt) {
    Caller caller = Caller.current();
    return repeatable.answer(
        request,
        change.body(),
        form,
        Mode.ADD,
        edits.finished(request, form),
        attempt,
        sent -> {
          try {
            return made(form, change, caller, sent, attempt);
          } catch (StoreException.Outdated e) {
            throw edits.outdated(form, e.current(), 0, change.of(), caller);
          }
        });
  }

  private StoredRecord made(
      Form form, Change change, Caller caller, SubmissionInfo sent, AttemptRecorder attempt) {
    if (form.isOneEach() && !Authorization.mayAdd(caller, form)) {
      throw Authorization.refusal(caller, form);
    }
    Optional<StoredRecord> there = submissions.only(form, caller);
    if (there.isPresent()) {
      throw edits.outdated(form, there.get(), 0, change.of(), caller);
    }
    Input input = change.of().apply(new Input(Map.of(), Input.Encoding.JSON));
    return RecordReply.accepted(
        form, Optional.empty(), caller, submissions.add(form.name(), input, caller, sent, attempt));
  }

  private static String header(HttpServletRequest request, String name) {
    String value = request.getHeader(name);
    return value == null ? "" : value.strip();
  }

  /** Only a form that has one record has this address. */
  private static PublishedForm only(PublishedForm published) {
    if (!published.form().isOne() && !published.form().isOneEach()) {
      throw Problem.of(
          404,
          "no-such-record",
          "There is no such record",
          "Form "
              + published.name()
              + " has many records, at /api/forms/"
              + published.name()
              + "/records; only one with `records: one` or `one-each` is asked for its record.");
    }
    return published;
  }

  private static Problem notYet(Form form) {
    return Problem.of(
        404,
        "no-such-record",
        "There is no such record",
        "Form " + form.name() + " has not been saved yet; its first save says If-None-Match: *.");
  }

  /** A version of what is not there cannot be known; without one, the first save is meant. */
  private static Problem unmade(Form form, HttpServletRequest request) {
    return header(request, "If-Match").isEmpty()
        ? Problem.of(
            428,
            "version-needed",
            "Precondition required: missing If-None-Match header",
            "There is no record yet. Send If-None-Match: * with its first save.")
        : notYet(form);
  }
}
