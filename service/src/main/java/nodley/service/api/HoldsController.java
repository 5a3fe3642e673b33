package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;
import nodley.core.form.Form;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.OpenPage;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.unique.Hold;
import nodley.store.unique.Holds;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code /api/holds}: names for open pages, and the unique values that are reserved for them. */
@RestController
@RequestMapping("/api/holds")
class HoldsController {

  private final Store store;
  private final Submissions submissions;

  HoldsController(Store store, Submissions submissions) {
    this.store = store;
    this.submissions = submissions;
  }

  /** A name for a page that is open, under which its checks can hold values. */
  @PostMapping
  ResponseEntity<byte[]> open(HttpServletRequest request) {
    Caller caller = Caller.current();
    Form form = form(Query.of(request, "form"), caller);
    Authorization.pass(Authorization.mayUse(caller, form), caller);
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("form", form.name());
    json.put("page", OpenPage.named(store, form, UUID.randomUUID().toString()));
    json.put("minutes", Holds.LONGEST.toMinutes());
    return Reply.json(Reply.status(201), json);
  }

  /** Releases all that a page holds. */
  @DeleteMapping
  ResponseEntity<byte[]> release(HttpServletRequest request) {
    Caller caller = Caller.current();
    Query query = Query.of(request, "form", "page");
    Form form = form(query, caller);
    Authorization.pass(Authorization.mayUse(caller, form), caller);
    String sealed = query.get("page").orElseThrow(() -> Problem.badQuery("\"page\" is missing."));
    store.holds().release(OpenPage.id(sealed, store, form));
    return Reply.status(204).build();
  }

  /**
   * The same for a page that is being left: all that it can still send is a POST without an answer.
   */
  @PostMapping("/release")
  ResponseEntity<byte[]> left(HttpServletRequest request) {
    return release(request);
  }

  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Authorization.passAdmin(Caller.current());
    Query.of(request);
    return Reply.ok(Map.of("holds", store.holds().list().stream().map(Hold::toJson).toList()));
  }

  private Form form(Query query, Caller caller) {
    String name =
        query
            .get("form")
            .orElseThrow(() -> Problem.badQuery("\"form\" is missing: the form on the page."));
    return submissions.form(name, caller).form();
  }
}
