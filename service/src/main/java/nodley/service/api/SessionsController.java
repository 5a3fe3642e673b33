package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.LinkedHashMap;
import java.util.Map;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.people.OwnSessions;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.access.Sessions.Session;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/sessions}: lists and ends sessions, an admin everybody's, others their own. A session
 * that ends is refused from the next request on.
 */
@RestController
@RequestMapping("/api/sessions")
class SessionsController {

  private final OwnSessions sessions;
  private final People people;

  SessionsController(Store store, OwnSessions sessions) {
    this.sessions = sessions;
    this.people = store.people();
  }

  @Needs(Right.SIGNED_IN)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    String current = sessions.current(request).map(Session::id).orElse("");
    return Reply.ok(
        Map.of("sessions", sessions.visible().stream().map(it -> json(it, current)).toList()));
  }

  private Map<String, Object> json(Session session, String current) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("id", session.id());
    json.put("caller", holder(session));
    json.put(
        "by",
        session.issued().isPresent() ? "issuer" : session.person().isEmpty() ? "key" : "password");
    json.put("begunAt", moment(session.begunAt()));
    json.put("usedAt", moment(session.usedAt()));
    json.put("address", session.address());
    json.put("current", session.id().equals(current));
    return json;
  }

  private String holder(Session session) {
    return session
        .issued()
        .map(it -> it.person().name())
        .or(() -> people.find(session.person()).map(Person::name))
        .orElse(session.key());
  }

  private static String moment(long millis) {
    return Instant.ofEpochMilli(millis).truncatedTo(ChronoUnit.SECONDS).toString();
  }

  /** Ends a session at once; one that the caller may not see is not there. */
  @Logged("end-session")
  @Needs(Right.SIGNED_IN)
  @DeleteMapping("/{id}")
  ResponseEntity<byte[]> end(@PathVariable String id, HttpServletRequest request) {
    Query.of(request);
    if (!sessions.end(id)) {
      throw Problem.of(
          404, "no-such-session", "There is no such session", "It has ended, or was never there.");
    }
    return Reply.status(204).build();
  }
}
