package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.Keys;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;

/** Authenticates requests: by a bearer key (RFC 6750) or by the session's cookie. */
@Component
public final class Authenticator {

  private static final String BEARER = "bearer ";

  private final Keys keys;
  private final KeyGuesses guesses;

  Authenticator(Store store, KeyGuesses guesses) {
    this.keys = store.keys();
    this.guesses = guesses;
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
          .flatMap(secret -> guesses.find(secret, request))
          .<Caller>map(key -> program(key, request.getRemoteAddr(), languages))
          .orElse(new Caller.UnknownKey(languages));
    }
    Caller person =
        SessionCookie.of(request)
            .flatMap(keys::sessionOf)
            .<Caller>map(key -> known(key, false, languages))
            .orElse(new Caller.Stranger(languages));
    // A change that another site had the browser send does not speak for the person.
    return person.isKnown() && Origins.isForeignChange(request)
        ? new Caller.CrossSiteRequest(languages)
        : person;
  }

  private Caller program(Key key, String address, List<Locale> languages) {
    keys.noteUse(key, address);
    return known(key, true, languages);
  }

  private static Caller known(Key key, boolean program, List<Locale> languages) {
    return new Caller.Known(key.name(), program, key.roles(), key.forms(), languages);
  }

  private static Optional<String> bearerOf(String authorization) {
    boolean bearer = authorization.regionMatches(true, 0, BEARER, 0, BEARER.length());
    return bearer
        ? Optional.of(authorization.substring(BEARER.length()).strip())
        : Optional.empty();
  }
}
