package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import nodley.service.issuer.Issuers;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.Keys;
import nodley.store.access.People;
import nodley.store.access.Sessions;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;

/**
 * Authenticates requests: by a bearer token (RFC 6750), which is a key, a pass or an issuer's, or
 * by the session's cookie.
 */
@Component
public final class Authenticator {

  private static final String BEARER = "bearer ";

  private final Keys keys;
  private final People people;
  private final Sessions sessions;
  private final KeyGuesses guesses;
  private final Passes passes;
  private final RehearsalTokens rehearsals;
  private final IssuedTokens issued;
  private final Issuers issuers;
  private final Browsers browsers;

  Authenticator(
      Store store,
      KeyGuesses guesses,
      Passes passes,
      RehearsalTokens rehearsals,
      IssuedTokens issued,
      Issuers issuers,
      Browsers browsers) {
    this.browsers = browsers;
    this.rehearsals = rehearsals;
    this.issued = issued;
    this.issuers = issuers;
    this.keys = store.keys();
    this.people = store.people();
    this.sessions = store.sessions();
    this.guesses = guesses;
    this.passes = passes;
  }

  /** What this thread answers, until {@link #forget}, is for who sends this request. */
  public void recognise(HttpServletRequest request) {
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(new CallerToken(caller(request)));
    SecurityContextHolder.setContext(context);
  }

  /** Ends what {@link #recognise} began. Must be called on the same thread, in a finally block. */
  public void forget() {
    SecurityContextHolder.clearContext();
  }

  private Caller caller(HttpServletRequest request) {
    List<Locale> languages = RequestedLanguages.languages(request);
    String authorization = request.getHeader("Authorization");
    if (authorization != null) {
      return bearerOf(authorization)
          .flatMap(token -> bearer(token, request, languages))
          .orElseGet(
              () ->
                  new Caller.InvalidToken(
                      "The key in the Authorization header is not known here.", languages));
    }
    Caller person =
        SafeCookie.SESSION
            .of(request)
            .flatMap(sessions::find)
            .flatMap(session -> holder(session, languages))
            .orElseGet(() -> new Caller.Stranger(browsers.of(request), languages));
    // A change that another site had the browser send does not speak for the person.
    return person.isKnown() && Origins.isForeignChange(request)
        ? new Caller.CrossSiteRequest(languages)
        : person;
  }

  private Optional<Caller> bearer(
      String token, HttpServletRequest request, List<Locale> languages) {
    return passes
        .find(token, languages)
        .or(() -> rehearsals.find(token, request.getMethod(), languages))
        .or(() -> issued.find(token, languages))
        .or(
            () ->
                guesses
                    .find(token, request)
                    .map(key -> program(key, request.getRemoteAddr(), languages)));
  }

  /** Whose session it is; empty if its key, its person or its issuer is gone. */
  private Optional<Caller> holder(Sessions.Session session, List<Locale> languages) {
    if (session.issued().isPresent()) {
      return session
          .issued()
          .map(Sessions.Issued::person)
          .filter(it -> issuers.forSigningIn(it.issuer()).isPresent())
          .map(it -> Caller.Known.of(it, languages));
    }
    return session.person().isEmpty()
        ? keys.named(session.key()).map(key -> known(key, false, languages))
        : people.find(session.person()).map(it -> Caller.Known.of(it, languages));
  }

  private Caller program(Key key, String address, List<Locale> languages) {
    keys.noteUse(key, address);
    return known(key, true, languages);
  }

  private static Caller known(Key key, boolean program, List<Locale> languages) {
    return new Caller.Known(
        key.name(), key.name(), "", "", program, key.roles(), key.forms(), languages);
  }

  private static Optional<String> bearerOf(String authorization) {
    boolean bearer = authorization.regionMatches(true, 0, BEARER, 0, BEARER.length());
    return bearer
        ? Optional.of(authorization.substring(BEARER.length()).strip())
        : Optional.empty();
  }
}
