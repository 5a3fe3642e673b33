package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.name.Near;
import nodley.core.submission.Context;
import nodley.core.submission.Steps;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Caller;
import nodley.service.draft.CallerDrafts;
import nodley.service.http.Body;
import nodley.service.http.IfMatch;
import nodley.service.http.OpenPage;
import nodley.service.http.Query;
import nodley.service.http.RecordReply;
import nodley.service.http.Repeatable;
import nodley.service.http.Reply;
import nodley.service.http.SubmissionBodies;
import nodley.service.http.VerdictReply;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.service.submission.Displays;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.Records;
import nodley.store.record.SubmissionInfo;
import nodley.store.unique.Holds;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/checks} and {@code /records}: checks values, adds records, lists, gets
 * and removes them. Each method reads the request, asks {@code Submissions} or the store, and
 * writes the answer; rights are checked before it is called.
 */
@RestController
@RequestMapping("/api/forms/{form}")
class RecordsController {

  private final Store store;
  private final Submissions submissions;
  private final Displays displays;
  private final Repeatable repeatable;
  private final AttemptLog log;
  private final CostlyReads costlyReads;
  private final SubmissionBodies bodies;
  private final CallerDrafts drafts;

  RecordsController(
      Store store,
      Submissions submissions,
      Displays displays,
      Repeatable repeatable,
      AttemptLog log,
      CostlyReads costlyReads,
      SubmissionBodies bodies,
      CallerDrafts drafts) {
    this.drafts = drafts;
    this.bodies = bodies;
    this.costlyReads = costlyReads;
    this.log = log;
    this.repeatable = repeatable;
    this.store = store;
    this.submissions = submissions;
    this.displays = displays;
  }

  /**
   * Answers 200 with the verdict on values that are not sent yet; nothing is stored, but values
   * that are set aside where the query has {@code hold}.
   *
   * @throws Problem 404 if the record that is edited is gone; 429 if a stranger asks too often
   */
  @Needs(Right.CHECK)
  @PostMapping("/checks")
  ResponseEntity<byte[]> check(PublishedForm published, HttpServletRequest request)
      throws IOException {
    return log.followCheck(request, published, attempt -> check(published, request, attempt));
  }

  private ResponseEntity<byte[]> check(
      PublishedForm published, HttpServletRequest request, Optional<AttemptRecorder> attempt)
      throws IOException {
    Caller caller = Caller.current();
    Form form = published.form();
    Query query = Query.of(request, "fields", "record", "page", "hold");
    Optional<String> record = query.get("record");
    Input input = bodies.submission(request, form);
    Optional<StoredRecord> edited = record.map(id -> submissions.record(form, id));
    Context context = submissions.context(caller, edited);
    Optional<Set<String>> only = query.get("fields").map(names -> fields(form, names));
    Steps steps = attempt.map(AttemptRecorder::steps).orElse(Steps.UNTIMED);
    boolean hold = OpenPage.wantsHold(query);
    Holds.Holder holder =
        new Holds.Holder(OpenPage.of(request, store, form), request.getRemoteAddr());
    Submissions.Held held =
        submissions.check(form, input, context, caller, only, steps, holder, hold);
    attempt.ifPresent(it -> it.judged(held.verdict()));
    return Reply.ok(
        VerdictReply.of(
            RecordReply.told(form, edited, caller, held.verdict()),
            hold ? Optional.of(held.until()) : Optional.empty()));
  }

  private static Set<String> fields(Form form, String names) {
    Set<String> fields = new LinkedHashSet<>(Arrays.asList(names.split(",", -1)));
    for (String name : fields) {
      if (form.fields().find(Arrays.asList(name.split("\\.", -1))).isEmpty()) {
        throw Problem.badQuery(
            "\"fields\" names \""
                + Wellformed.of(name)
                + "\", which the form does not have."
                + Near.to(name, form.fields().names())
                    .map(near -> " Did you mean \"" + near + "\"?")
                    .orElse(""));
      }
    }
    return fields;
  }

  /**
   * Adds a record: 201 with it, or 202 where the form keeps none. Sent again with its
   * Idempotency-Key, it is answered as before.
   *
   * @throws Problem 422 with all errors; 409 if the form has one record only, and it is there; 429
   *     if a stranger sends too many
   */
  @Needs(Right.ADD)
  @PostMapping("/records")
  ResponseEntity<byte[]> add(PublishedForm published, HttpServletRequest request)
      throws IOException {
    Caller caller = Caller.current();
    Form form = published.form();
    return log.follow(
        request,
        published,
        "add",
        attempt -> {
          Query.of(request, "page", "draft");
          Body body = bodies.read(request, form);
          Input input = bodies.submission(body);
          return repeatable.answer(
              request,
              body.identity(),
              form,
              Mode.ADD,
              drafts.finished(request, form),
              attempt,
              sent -> added(form, input, caller, sent, attempt));
        });
  }

  private StoredRecord added(
      Form form, Input input, Caller caller, SubmissionInfo sent, AttemptRecorder attempt) {
    try {
      return RecordReply.accepted(
          form,
          Optional.empty(),
          caller,
          submissions.add(form.name(), input, caller, sent, attempt));
    } catch (StoreException.Outdated e) {
      throw Problem.of(
          409,
          "only-one",
          form.isOneEach() ? "You have one record only" : "The form has one record only",
          "It is there already: edit it at /api/forms/" + form.name() + "/record.");
    }
  }

  /**
   * A page of records.
   *
   * @param next the cursor of the next page; left out on the last
   */
  record RecordsPage(List<RecordReply> records, Optional<String> next) {}

  /**
   * Answers 200 with a page of the records that the caller may see; costly ones take turns.
   *
   * @throws Problem 400 if the query is wrong; 503 if it takes too long
   */
  @Needs(Right.SEE)
  @GetMapping("/records")
  ResponseEntity<byte[]> list(Form form, HttpServletRequest request) {
    Caller caller = Caller.current();
    Query asked = Query.of(request, ListQuery.names());
    return costlyReads.run(() -> list(form, asked, caller));
  }

  private ResponseEntity<byte[]> list(Form form, Query asked, Caller caller) {
    ListQuery query = new ListQuery(store, submissions, form, asked, caller);
    Records.Page page = store.records().list(form, query.listing());
    Display display = displays.of(caller);
    Optional<String> next = page.next().map(query::cursor);
    ResponseEntity.BodyBuilder reply = Reply.status(200);
    next.ifPresent(it -> reply.header("Link", "<" + query.next(it) + ">; rel=\"next\""));
    return Reply.json(
        reply,
        new RecordsPage(
            page.records().stream().map(it -> RecordReply.of(form, it, caller, display)).toList(),
            next));
  }

  /**
   * Answers 200 with one record, under its version as a tag.
   *
   * @throws Problem 404 if there is none of this id
   */
  @Needs(Right.SEE)
  @GetMapping("/records/{id}")
  void get(
      Form form, @PathVariable String id, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Caller caller = Caller.current();
    Query.of(request);
    StoredRecord record = submissions.record(form, id);
    Reply.write(
        Reply.json(
            Reply.status(200).header("ETag", RecordReply.tag(record)),
            RecordReply.of(form, record, caller, displays.of(caller))),
        response);
  }

  /**
   * Removes a record: 204. With {@code restorable=true} it can be put back for a while.
   *
   * @throws Problem 409 if other records refer to it; 412 if it is not at the version of If-Match;
   *     428 if there is none
   */
  @Needs(Right.REMOVE)
  @DeleteMapping("/records/{id}")
  ResponseEntity<byte[]> remove(Form form, @PathVariable String id, HttpServletRequest request) {
    Query query = Query.of(request, "restorable");
    StoredRecord before = submissions.record(form, id);
    long version = IfMatch.version(request, before.version());
    boolean restorable = query.get("restorable").filter(it -> !it.equals("false")).isPresent();
    submissions.remove(form, before, version, restorable, Caller.current());
    return Reply.status(204).build();
  }
}
