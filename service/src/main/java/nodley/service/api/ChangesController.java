package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Events;
import nodley.service.http.Query;
import nodley.service.live.Change;
import nodley.service.live.Feed;
import nodley.service.problem.Json;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/forms/{form}/changes} and {@code /api/changes}: tells open pages of changes of
 * records, as server-sent events. An event has a record's id and version and none of its values,
 * and comes only to those who may see that record. Each stream holds a connection, of which an
 * address may have so many.
 */
@RestController
class ChangesController {

  /** Open edits in all tabs of a browser. */
  private static final int MOST_RECORDS = 100;

  private final Submissions submissions;
  private final Store store;
  private final Feed<Change> changes;
  private final Events events;

  ChangesController(Submissions submissions, Store store, Feed<Change> changes, Events events) {
    this.events = events;
    this.submissions = submissions;
    this.store = store;
    this.changes = changes;
  }

  /**
   * A record that was added, edited or removed.
   *
   * @param form left out where only one form is watched
   * @param version 0 if it was removed
   */
  record ChangedRecord(Optional<String> form, String record, long version) {}

  @Needs(Right.SEE)
  @GetMapping("/api/forms/{form}/changes")
  void follow(Form form, HttpServletRequest request, HttpServletResponse response) {
    String name = form.name();
    Optional<String> owner = Authorization.visibleOwner(Caller.current(), form);
    Optional<String> record = Query.of(request, "record").get("record");
    events.send(
        request,
        response,
        changes,
        name,
        it ->
            it.form().equals(name)
                && record.map(it.record()::equals).orElse(true)
                && owner.map(it.owner()::equals).orElse(true),
        ChangesController::event);
  }

  @Needs(Right.NOTHING)
  @GetMapping("/api/changes")
  void followRecords(HttpServletRequest request, HttpServletResponse response) {
    List<String> named = Query.many(request, "record");
    if (named.isEmpty() || named.size() > MOST_RECORDS) {
      throw Problem.badQuery(
          "\"record\" stands there once for each record to watch, as FORM/ID, 1 to "
              + MOST_RECORDS
              + " times.");
    }
    Set<String> seen = seen(named);
    events.send(
        request,
        response,
        changes,
        it -> seen.contains(it.form() + "/" + it.record()),
        () -> seen.stream().map(this::now).map(ChangesController::event).toList(),
        told -> event(told.thing()));
  }

  /**
   * Those of which the caller may know: one form that is not to be seen does not keep a page from
   * hearing of the others.
   *
   * @throws Problem 401, 403 or 404, as the first form has it, if there are none
   */
  private Set<String> seen(List<String> named) {
    Caller caller = Caller.current();
    Set<String> seen = new LinkedHashSet<>();
    Problem first = null;
    for (String one : named) {
      try {
        Form form = submissions.form(one.split("/", 2)[0], caller).form();
        if (!Authorization.maySeeSome(caller, form)) {
          throw Authorization.refusal(caller, form);
        }
        if (!mayWatch(caller, form, one)) {
          throw Problem.noSuchRecord(form.name(), one.substring(one.indexOf('/') + 1));
        }
        seen.add(one);
      } catch (Problem problem) {
        first = first == null ? problem : first;
      }
    }
    if (seen.isEmpty()) {
      throw first;
    }
    return seen;
  }

  /** Where only own records are to be seen, another's is as good as none. */
  private boolean mayWatch(Caller caller, Form form, String named) {
    String[] one = named.split("/", 2);
    return Authorization.maySee(caller, form)
        || one.length == 2 && store.owners().owns(caller.person(), form, one[1]);
  }

  private Change now(String named) {
    String[] one = named.split("/", 2);
    String id = one.length < 2 ? "" : one[1];
    Form form = submissions.form(one[0], Caller.current()).form();
    long version = store.records().find(form, id).map(StoredRecord::version).orElse(0L);
    return new Change(one[0], id, version, "");
  }

  private static String event(Change change) {
    return "data: "
        + json(new ChangedRecord(Optional.of(change.form()), change.record(), change.version()));
  }

  private static String event(Feed.Told<Change> told) {
    Change change = told.thing();
    return "id: "
        + told.id()
        + "\ndata: "
        + json(new ChangedRecord(Optional.empty(), change.record(), change.version()));
  }

  private static String json(ChangedRecord changed) {
    return Json.text(changed);
  }
}
