package nodley.service.page;

import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.net.URLDecoder;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.stream.Stream;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseCookie;

/**
 * Carries the outcome of a submission to the next page, which shows it once. A short-lived cookie:
 * it needs no session, and no link can make a page show a message. The page runtime sets the same
 * cookie.
 */
final class OutcomeCookie {

  private static final String NAME = "nodley_said";
  private static final int SECONDS = 60;
  private static final int MOST = 300;

  private OutcomeCookie() {}

  /** A longer one is cut short: a cookie holds 4 096 bytes, and a character takes up to twelve. */
  static void tell(String text, HttpServletResponse response) {
    boolean fits = text.codePointCount(0, text.length()) <= MOST;
    String told = fits ? text : text.substring(0, text.offsetByCodePoints(0, MOST)) + "…";
    String value = URLEncoder.encode(told, StandardCharsets.UTF_8).replace("+", "%20");
    set(value, SECONDS, response);
  }

  /** What there is to tell; telling it ends it. */
  static String take(HttpServletRequest request, HttpServletResponse response) {
    String value =
        Stream.ofNullable(request.getCookies())
            .flatMap(Stream::of)
            .filter(cookie -> cookie.getName().equals(NAME))
            .map(Cookie::getValue)
            .findFirst()
            .orElse("");
    if (value.isEmpty()) {
      return "";
    }
    set("", 0, response);
    try {
      return URLDecoder.decode(value, StandardCharsets.UTF_8);
    } catch (IllegalArgumentException e) {
      return "";
    }
  }

  private static void set(String value, int seconds, HttpServletResponse response) {
    response.addHeader(
        HttpHeaders.SET_COOKIE,
        ResponseCookie.from(NAME, value)
            .sameSite("Lax")
            .path("/forms")
            .maxAge(seconds)
            .build()
            .toString());
  }
}
