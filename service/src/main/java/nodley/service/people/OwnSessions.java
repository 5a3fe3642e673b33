package nodley.service.people;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Optional;
import nodley.service.caller.Caller;
import nodley.service.caller.SafeCookie;
import nodley.store.Store;
import nodley.store.access.Roles;
import nodley.store.access.Sessions;
import nodley.store.access.Sessions.Session;
import org.springframework.stereotype.Component;

/**
 * The sessions that the caller may see and end: an admin everybody's, others their own, strangers
 * none. All but {@link #current} are for a thread with a request, whose {@link Caller} counts. Each
 * call reads or writes the store. Thread-safe.
 */
@Component
public final class OwnSessions {

  private final Sessions sessions;

  OwnSessions(Store store) {
    this.sessions = store.sessions();
  }

  /** Returns the session of a request; empty if it has none. */
  public Optional<Session> current(HttpServletRequest request) {
    return SafeCookie.SESSION.of(request).flatMap(sessions::find);
  }

  /** Returns the caller's own sessions, the one used last first; none of a stranger's. */
  public List<Session> own() {
    Caller caller = Caller.current();
    return caller.person().isEmpty()
        ? sessions.ofKey(caller.name())
        : sessions.ofPerson(caller.person());
  }

  /**
   * Returns the sessions that the caller may see and end: an admin everybody's, others their own.
   */
  public List<Session> visible() {
    boolean isAdmin =
        Caller.current() instanceof Caller.Known known
            && known.has(Roles.ADMIN)
            && known.forms().isEmpty();
    return isAdmin ? sessions.all() : own();
  }

  /**
   * Ends a session at once, an admin anybody's.
   *
   * @return false if there is none of this id that the caller may see
   */
  public boolean end(String id) {
    return visible().stream().anyMatch(it -> it.id().equals(id)) && sessions.end(id);
  }
}
