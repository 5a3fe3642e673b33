package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URI;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.value.Raw;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.attempt.AttemptLog;
import nodley.service.caller.Browsers;
import nodley.service.caller.Caller;
import nodley.service.draft.CallerDrafts;
import nodley.service.http.Bodies;
import nodley.service.http.IfMatch;
import nodley.service.http.OpenPage;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.draft.Draft;
import nodley.store.draft.Drafts;
import nodley.store.form.PublishedForm;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/drafts}: submissions that are not finished yet, as they were typed. Nothing in them
 * is judged. A submission that names its draft takes it with it.
 */
@RestController
@RequestMapping("/api/drafts")
class DraftsController {

  private final CallerDrafts drafts;
  private final Submissions submissions;
  private final Store store;
  private final Browsers browsers;
  private final Bodies bodies;
  private final AttemptLog log;

  DraftsController(
      CallerDrafts drafts,
      Submissions submissions,
      Store store,
      Browsers browsers,
      Bodies bodies,
      AttemptLog log) {
    this.drafts = drafts;
    this.submissions = submissions;
    this.store = store;
    this.browsers = browsers;
    this.bodies = bodies;
    this.log = log;
  }

  /**
   * A draft.
   *
   * @param record the id of the record that is edited; left out for an add
   * @param recordVersion the version of it from which the edit began; left out for an add
   * @param values as they were typed, without secrets
   * @param step the step that is open; empty for none
   * @param updatedAt RFC 3339, UTC; likewise {@code expiresAt}
   * @param page the name under which its checks can hold unique values
   */
  record DraftReply(
      String id,
      String form,
      Optional<String> record,
      Optional<Long> recordVersion,
      long version,
      Object values,
      String step,
      String updatedAt,
      String expiresAt,
      String page) {}

  record AllDrafts(List<DraftReply> drafts) {}

  private DraftReply reply(Form form, Draft draft) {
    return new DraftReply(
        draft.id(),
        draft.form(),
        Optional.of(draft.record()).filter(_ -> draft.isEdit()),
        Optional.of(draft.recordVersion()).filter(_ -> draft.isEdit()),
        draft.version(),
        draft.values().toJson(),
        draft.step(),
        draft.updatedAt().toString(),
        draft.endsAt().toString(),
        OpenPage.named(store, form, Drafts.page(draft.id())));
  }

  private ResponseEntity<byte[]> told(ResponseEntity.BodyBuilder reply, Form form, Draft draft) {
    return Reply.json(reply.header("ETag", "\"" + draft.version() + "\""), reply(form, draft));
  }

  /** Begins a draft with the values of the body. */
  @Needs(Right.DRAFT)
  @PostMapping
  ResponseEntity<byte[]> begin(
      PublishedForm published, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    log.countDraft(request, published);
    Form form = published.form();
    Query query = Query.of(request, "form", "record", "version", "step");
    Raw.Members typed = new Raw.Members(bodies.submission(request).members());
    Optional<StoredRecord> record = query.get("record").map(id -> submissions.record(form, id));
    Draft draft =
        drafts.begin(
            form,
            new CallerDrafts.Begun(
                record,
                version(query, record),
                typed,
                query.get("step").orElse(""),
                browsers.uploader(request, response)),
            request);
    return told(Reply.status(201).location(URI.create("/api/drafts/" + draft.id())), form, draft);
  }

  /** The version of the record that was on the page; it may have been edited since. */
  private static Optional<Long> version(Query query, Optional<StoredRecord> record) {
    Optional<String> version = query.get("version");
    boolean right =
        version.isEmpty()
            || version.get().matches("[1-9][0-9]{0,17}")
                && record.filter(it -> Long.parseLong(version.get()) <= it.version()).isPresent();
    if (!right) {
      throw Problem.badQuery("\"version\" is a version of the record that is edited.");
    }
    return version.map(Long::valueOf);
  }

  /** The caller's own drafts, what was changed last coming first. */
  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Optional<String> form = Query.of(request, "form").get("form");
    return Reply.ok(
        new AllDrafts(
            drafts.own(request).stream()
                .filter(it -> form.isEmpty() || form.get().equals(it.draft().form()))
                .map(it -> reply(it.form(), it.draft()))
                .toList()));
  }

  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping("/{id}")
  void get(@PathVariable String id, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Query.of(request);
    CallerDrafts.Found found = drafts.get(id, request);
    Reply.write(told(Reply.status(200), found.form(), found.draft()), response);
  }

  /** Changes the values by a JSON Merge Patch (RFC 7396), of the version that If-Match names. */
  @Needs(Right.NO_INVALID_TOKEN)
  @PatchMapping("/{id}")
  ResponseEntity<byte[]> change(@PathVariable String id, HttpServletRequest request)
      throws IOException {
    Query query = Query.of(request, "step");
    CallerDrafts.Found found = drafts.get(id, request);
    log.countDraft(request, submissions.form(found.draft().form(), Caller.current()));
    long version = IfMatch.version(request, found.draft().version());
    Raw.Members patch = new Raw.Members(bodies.submission(bodies.readPatch(request)).members());
    Draft draft = drafts.change(found, version, patch, query.get("step").orElse(""));
    return told(Reply.status(200), found.form(), draft);
  }

  @Needs(Right.NO_INVALID_TOKEN)
  @DeleteMapping("/{id}")
  ResponseEntity<byte[]> discard(@PathVariable String id, HttpServletRequest request) {
    Query.of(request);
    drafts.discard(drafts.get(id, request).draft());
    return Reply.status(204).build();
  }
}
