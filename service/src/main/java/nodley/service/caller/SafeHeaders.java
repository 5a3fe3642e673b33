package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;

/** The headers that browsers heed, on every reply that has not said otherwise. */
public final class SafeHeaders {

  /** Nothing from elsewhere, nothing inline; the console's own page widens this by a nonce. */
  private static final String PAGE =
      "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:;"
          + " font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none';"
          + " frame-ancestors 'none'";

  /** What the wire answers is no page, whoever opens it. */
  private static final String WIRE = "default-src 'none'; frame-ancestors 'none'";

  private static final String POLICY = "Content-Security-Policy";

  private SafeHeaders() {}

  public static void write(HttpServletRequest request, HttpServletResponse response) {
    response.setHeader("X-Content-Type-Options", "nosniff");
    if (request.getRequestURI().startsWith("/api/")) {
      response.setHeader(POLICY, WIRE);
      return;
    }
    response.setHeader("X-Frame-Options", "DENY");
    response.setHeader("Referrer-Policy", "same-origin");
    if (!response.containsHeader(POLICY)) {
      response.setHeader(POLICY, PAGE);
    }
  }
}
