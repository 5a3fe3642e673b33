package nodley.service.caller;

import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.service.issuer.OpenIdSignIn;
import nodley.store.access.Sessions;
import org.springframework.http.ResponseCookie;

/**
 * A cookie that no script reads, and that other sites do not send along with changes: HttpOnly and
 * SameSite; over TLS also Secure, with the {@code __Host-} prefix, so that browsers take it from
 * this host only.
 */
public enum SafeCookie {
  /** The secret of a session. */
  SESSION("nodley_session", Sessions.LONGEST),

  /** Tells the browser of a stranger who has sent a file from others. */
  BROWSER("nodley_browser", Duration.ofDays(30)),

  /** What waits while somebody signs in elsewhere. */
  SIGN_IN("nodley_sign_in", OpenIdSignIn.TIME);

  private final String base;
  private final Duration longest;

  SafeCookie(String base, Duration longest) {
    this.base = base;
    this.longest = longest;
  }

  private String name(HttpServletRequest request) {
    return request.isSecure() ? "__Host-" + base : base;
  }

  /** Returns its value that a request sends; empty if it sends none. */
  public Optional<String> of(HttpServletRequest request) {
    Cookie[] cookies = request.getCookies();
    if (cookies == null) {
      return Optional.empty();
    }
    return Stream.of(cookies)
        .filter(cookie -> cookie.getName().equals(name(request)))
        .map(Cookie::getValue)
        .findFirst();
  }

  /** A {@code Set-Cookie} value that sets it. */
  public String set(String value, HttpServletRequest request) {
    return cookie(value, longest, request);
  }

  /** A {@code Set-Cookie} value that removes it. */
  public String remove(HttpServletRequest request) {
    return cookie("", Duration.ZERO, request);
  }

  private String cookie(String value, Duration age, HttpServletRequest request) {
    return ResponseCookie.from(name(request), value)
        .httpOnly(true)
        .sameSite("Lax")
        .secure(request.isSecure())
        .path("/")
        .maxAge(age)
        .build()
        .toString();
  }
}
