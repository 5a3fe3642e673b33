package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
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

  record VisibleSessions(List<SessionReply> sessions) {}

  /**
   * A session.
   *
   * @param caller the name of the person or key
   * @param by how it was opened: {@code issuer}, {@code key} or {@code password}
   * @param begunAt RFC 3339, UTC, to the second; likewise {@code usedAt}
   * @param current true for the one that asks
   */
  record SessionReply(
      String id,
      String caller,
      String by,
      String begunAt,
      String usedAt,
      String address,
      boolean current) {}

  @Needs(Right.SIGNED_IN)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    String current = sessions.current(request).map(Session::id).orElse("");
    return Reply.ok(
        new VisibleSessions(sessions.visible().stream().map(it -> told(it, current)).toList()));
  }

  private SessionReply told(Session session, String current) {
    return new SessionReply(
        session.id(),
        holder(session),
        session.issued().isPresent() ? "issuer" : session.person().isEmpty() ? "key" : "password",
        moment(session.begunAt()),
        moment(session.usedAt()),
        session.address(),
        session.id().equals(current));
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
