package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import nodley.core.form.Access;
import nodley.core.form.Display;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.http.RecordReply;
import nodley.service.http.Reply;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import nodley.service.submission.Displays;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.RemovedRecords;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/removed}: lists the records that were removed lately, puts one back, and
 * forgets one for good. Needs the right to remove; whoever may remove their own records finds these
 * alone.
 */
@RestController
@RequestMapping("/api/forms/{form}/removed")
class RemovedController {

  private static final int PAGE = 50;
  private static final int MAX_PAGE = 1_000;

  private final RemovedRecords removed;
  private final Submissions submissions;
  private final Displays displays;
  private final Limits limits;

  RemovedController(Store store, Submissions submissions, Displays displays, Limits limits) {
    this.removed = store.records().removed();
    this.submissions = submissions;
    this.displays = displays;
    this.limits = limits;
  }

  /**
   * A page of them, the latest first.
   *
   * @param before asks for the next page; left out on the last
   * @param keptSeconds for how long a record can be put back once it is removed
   */
  record RemovedPage(List<RemovedReply> removed, Optional<String> before, long keptSeconds) {}

  /**
   * A removed record.
   *
   * @param called what it was called; left out for a caller who may not see records
   * @param removedAt RFC 3339, UTC
   * @param removedBy the person or key; empty if it is nobody known
   * @param until when it is gone for good: RFC 3339, UTC, to the second
   */
  record RemovedReply(
      String id,
      Optional<String> called,
      long version,
      String removedAt,
      String removedBy,
      String until) {}

  @Needs(Right.REMOVE)
  @GetMapping
  ResponseEntity<byte[]> list(Form form, HttpServletRequest request) {
    Query query = Query.of(request, "limit", "before");
    int limit = query.number("limit", PAGE, MAX_PAGE);
    Caller caller = Caller.current();
    Optional<String> owner =
        Authorization.may(caller, form, Access::remove)
            ? Optional.empty()
            : Optional.of(caller.person());
    List<RemovedRecords.Removed> found =
        removed.list(form, owner, query.place("before"), limit + 1);
    List<RemovedRecords.Removed> page = found.subList(0, Math.min(limit, found.size()));
    return Reply.ok(
        new RemovedPage(
            page.stream().map(it -> told(form, it, caller)).toList(),
            found.size() > limit
                ? Optional.of(Long.toString(page.getLast().number()))
                : Optional.empty(),
            limits.removed().kept().toSeconds()));
  }

  private RemovedReply told(Form form, RemovedRecords.Removed it, Caller caller) {
    boolean maySee =
        Authorization.maySee(caller, form)
            || Authorization.mayOwn(caller, form, Access::see)
                && it.owner().equals(caller.person());
    return new RemovedReply(
        it.id(),
        maySee ? Optional.of(called(form, it, caller)) : Optional.empty(),
        it.last().number(),
        it.at().toString(),
        it.by(),
        it.at().plus(limits.removed().kept()).truncatedTo(ChronoUnit.SECONDS).toString());
  }

  private String called(Form form, RemovedRecords.Removed it, Caller caller) {
    Display display = displays.of(caller);
    return form.called(submissions.values(form, it, caller), display);
  }

  /** Puts one back as it was, at its version. */
  @Needs(Right.REMOVE)
  @PostMapping("/{id}/restore")
  ResponseEntity<byte[]> putBack(
      PublishedForm published, @PathVariable String id, HttpServletRequest request) {
    Query.of(request);
    Form form = published.form();
    Caller caller = Caller.current();
    StoredRecord record;
    try {
      record = submissions.putBack(published, find(form, id));
    } catch (StoreException.CannotPutBack e) {
      throw inTheWay(form, e);
    }
    return Reply.json(
        Reply.status(200).header("ETag", RecordReply.tag(record)),
        RecordReply.putBack(form, record, caller, displays.of(caller)));
  }

  private static Problem inTheWay(Form form, StoreException.CannotPutBack e) {
    // Of a field that the caller may not see nothing is told.
    List<Field> fields =
        e.fields().stream()
            .flatMap(it -> form.fields().find(List.of(it.split("\\."))).stream())
            .filter(it -> !it.isHidden())
            .toList();
    String named =
        fields.isEmpty()
            ? "something"
            : fields.stream().map(Field::label).collect(Collectors.joining(", "));
    String detail =
        switch (e.what()) {
          case TAKEN -> "Another record has the same by now: " + named + ". Change that one first.";
          case MISSING -> "What it refers to is gone: " + named + ". Put that back first.";
          case ANOTHER_RECORD ->
              form.isOneEach()
                  ? "Each person has one record, and its owner has another one by now."
                  : "The form has one record only, and has another one by now.";
          case FORM ->
              "The form has changed so much since that not all of its values have a place: "
                  + named
                  + ".";
        };
    return Problem.of(409, "cannot-restore", "The record cannot be put back", detail);
  }

  /** Forgets one for good. */
  @Needs(Right.REMOVE)
  @DeleteMapping("/{id}")
  ResponseEntity<byte[]> forget(Form form, @PathVariable String id, HttpServletRequest request) {
    Query.of(request);
    removed.forget(form, find(form, id).id());
    return Reply.status(204).build();
  }

  private RemovedRecords.Removed find(Form form, String id) {
    return removed
        .find(form, id)
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-record",
                    "There is no such record",
                    "No record of this id was removed from "
                        + form.name()
                        + " that could be put back."));
  }
}
