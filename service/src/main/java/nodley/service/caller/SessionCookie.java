package nodley.service.caller;

import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.store.access.Sessions;
import org.springframework.http.ResponseCookie;

/**
 * The session's cookie: HttpOnly and SameSite; over TLS also Secure, with the {@code __Host-}
 * prefix.
 */
public final class SessionCookie {

  /** Over TLS the name itself has browsers take it from this host only, for all of its paths. */
  private static final String SECURE_NAME = "__Host-nodley_session";

  private static final String NAME = "nodley_session";

  private SessionCookie() {}

  private static String name(HttpServletRequest request) {
    return request.isSecure() ? SECURE_NAME : NAME;
  }

  /** Returns the session's secret that a request sends; empty if it sends none. */
  public static Optional<String> of(HttpServletRequest request) {
    return Stream.ofNullable(request.getCookies())
        .flatMap(Stream::of)
        .filter(cookie -> cookie.getName().equals(name(request)))
        .map(Cookie::getValue)
        .findFirst();
  }

  /** A {@code Set-Cookie} value that opens a session. */
  public static String opening(String secret, HttpServletRequest request) {
    return cookie(secret, Sessions.LONGEST.toSeconds(), request);
  }

  /** A {@code Set-Cookie} value that ends it. */
  public static String ending(HttpServletRequest request) {
    return cookie("", 0, request);
  }

  private static String cookie(String value, long seconds, HttpServletRequest request) {
    return ResponseCookie.from(name(request), value)
        .httpOnly(true)
        .sameSite("Lax")
        .secure(request.isSecure())
        .path("/")
        .maxAge(seconds)
        .build()
        .toString();
  }
}
