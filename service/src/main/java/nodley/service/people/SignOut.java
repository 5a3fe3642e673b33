package nodley.service.people;

import jakarta.servlet.http.HttpServletRequest;
import java.net.URI;
import java.util.Optional;
import nodley.service.caller.SafeCookie;
import nodley.service.issuer.Issuers;
import nodley.service.issuer.OpenIdSignIn;
import nodley.store.Store;
import nodley.store.access.Sessions;
import org.springframework.stereotype.Component;

/**
 * Signs people out, here and, where an issuer signed them in, at the issuer (OpenID Connect
 * RP-Initiated Logout 1.0). Thread-safe.
 */
@Component
public final class SignOut {

  private final Sessions sessions;
  private final Issuers issuers;
  private final OpenIdSignIn openId;

  SignOut(Store store, Issuers issuers, OpenIdSignIn openId) {
    this.sessions = store.sessions();
    this.issuers = issuers;
    this.openId = openId;
  }

  /**
   * Ends the session of a request, if it has one.
   *
   * @return where the browser goes so that the issuer ends its session, too; empty if there is none
   */
  public Optional<URI> end(HttpServletRequest request) {
    Optional<String> secret = SafeCookie.SESSION.of(request);
    Optional<Sessions.Issued> issued =
        secret.flatMap(sessions::find).flatMap(Sessions.Session::issued);
    secret.ifPresent(sessions::close);
    return issued.flatMap(
        it ->
            issuers
                .forSigningIn(it.person().issuer())
                .flatMap(issuer -> openId.ending(issuer, it)));
  }
}
