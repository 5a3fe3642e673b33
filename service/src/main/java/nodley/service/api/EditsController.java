package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.input.MergePatch;
import nodley.core.submission.Difference;
import nodley.core.submission.Differences;
import nodley.core.value.Raw;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.http.SubmissionBodies;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.form.PublishedForm;
import nodley.store.record.Version;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/records/{id}}: edits a record, whole ({@code PUT}) or in part ({@code
 * PATCH}, RFC 7396), lists its versions, and restores one. An edit names the version that it began
 * from (If-Match); if that is no longer the latest, the answer has both, for merging.
 */
@RestController
@RequestMapping("/api/forms/{form}/records/{id}")
class EditsController {

  private static final int PAGE = 50;
  private static final int MAX_PAGE = 1_000;

  private final Store store;
  private final Submissions submissions;
  private final Edits edits;
  private final AttemptLog log;
  private final CostlyReads costlyReads;
  private final Bodies bodies;
  private final SubmissionBodies submissionBodies;

  EditsController(
      Store store,
      Submissions submissions,
      Edits edits,
      AttemptLog log,
      CostlyReads costlyReads,
      Bodies bodies,
      SubmissionBodies submissionBodies) {
    this.submissionBodies = submissionBodies;
    this.bodies = bodies;
    this.costlyReads = costlyReads;
    this.log = log;
    this.store = store;
    this.submissions = submissions;
    this.edits = edits;
  }

  /**
   * Edits a record: what is not sent becomes blank. Answers 200 with it.
   *
   * @throws Problem 412, with both versions, if somebody changed it since; 422 with all errors; 428
   *     without If-Match
   */
  @Needs(Right.EDIT)
  @PutMapping
  ResponseEntity<byte[]> whole(
      PublishedForm published, @PathVariable String id, HttpServletRequest request)
      throws IOException {
    return follow(
        published,
        request,
        (form, attempt) -> {
          Body body = submissionBodies.read(request, form);
          Input input = bodies.submission(body);
          return edits.answer(form, id, request, body.identity(), _ -> input, attempt);
        });
  }

  /** Edits what is sent of a record, and leaves the rest as it is; else as {@link #whole}. */
  @Needs(Right.EDIT)
  @PatchMapping
  ResponseEntity<byte[]> part(
      PublishedForm published, @PathVariable String id, HttpServletRequest request)
      throws IOException {
    return follow(
        published,
        request,
        (form, attempt) -> {
          Body body = bodies.readPatch(request);
          Input patch = bodies.submission(body);
          return edits.answer(
              form,
              id,
              request,
              body.identity(),
              before ->
                  new Input(
                      MergePatch.apply(before.members(), patch.members()), Input.Encoding.JSON),
              attempt);
        });
  }

  record VersionsPage(List<VersionReply> versions) {}

  /**
   * A version of a record, and what it changed in the one before.
   *
   * @param at RFC 3339, UTC
   * @param by empty if nobody is known
   */
  record VersionReply(long version, int revision, String at, String by, List<Change> changes) {}

  /**
   * A changed value.
   *
   * @param from null if there was none; likewise {@code to}
   */
  @JsonInclude(JsonInclude.Include.ALWAYS)
  record Change(String pointer, Object from, Object to) {

    static Change of(Difference difference) {
      return new Change(
          difference.pointer(), difference.before().toJson(), difference.after().toJson());
    }
  }

  /** Who changed what, and what was there before, is for those who work on records. */
  @Needs(Right.SEE_AND_EDIT)
  @GetMapping("/versions")
  ResponseEntity<byte[]> versions(Form form, @PathVariable String id, HttpServletRequest request) {
    Query query = Query.of(request, "limit", "before");
    int limit = query.number("limit", PAGE, MAX_PAGE);
    long before = query.number("before", Integer.MAX_VALUE, Integer.MAX_VALUE);
    return costlyReads.run(() -> versions(form, id, before, limit));
  }

  private ResponseEntity<byte[]> versions(Form form, String id, long before, int limit) {
    // One more than is told: each is told by what it changed in the one before.
    List<Version> versions = store.records().versions(form, id, before, limit + 1);
    List<VersionReply> told = new ArrayList<>();
    for (int i = 0; i < Math.min(limit, versions.size()); i++) {
      Raw.Members earlier =
          i + 1 < versions.size() ? versions.get(i + 1).values() : new Raw.Members(Map.of());
      told.add(told(form, versions.get(i), earlier));
    }
    return Reply.ok(new VersionsPage(told));
  }

  private static VersionReply told(Form form, Version version, Raw.Members earlier) {
    return new VersionReply(
        version.number(),
        version.revision(),
        version.at(),
        version.by(),
        Differences.between(told(form, earlier), told(form, version.values())).stream()
            .map(Change::of)
            .toList());
  }

  private static Raw.Members told(Form form, Raw.Members values) {
    return Authorization.told(Caller.current(), form.fields(), values);
  }

  /**
   * Gives a record the values of an earlier version, which are validated as an edit is.
   *
   * @throws Problem 404 if there is no such version; else as {@link #whole}
   */
  @Needs(Right.EDIT)
  @PostMapping("/versions/{number}/restore")
  ResponseEntity<byte[]> restore(
      PublishedForm published,
      @PathVariable String id,
      @PathVariable String number,
      HttpServletRequest request)
      throws IOException {
    return follow(
        published,
        request,
        (form, attempt) -> {
          submissions.record(form, id);
          Version version =
              Optional.of(number)
                  .filter(it -> it.matches("[1-9][0-9]{0,17}"))
                  .flatMap(it -> store.records().version(form, id, Long.parseLong(it)))
                  .orElseThrow(() -> Problem.noSuchVersion(number));
          Input put = Submissions.input(Known.of(form.fields(), version.kept()));
          return edits.answer(form, id, request, new byte[0], _ -> put, attempt);
        });
  }

  private interface Edit {
    ResponseEntity<byte[]> answer(Form form, AttemptRecorder attempt) throws IOException;
  }

  private ResponseEntity<byte[]> follow(
      PublishedForm published, HttpServletRequest request, Edit edit) throws IOException {
    return log.follow(
        request,
        published,
        "edit",
        attempt -> {
          Query.of(request, "page", "draft");
          return edit.answer(published.form(), attempt);
        });
  }
}
