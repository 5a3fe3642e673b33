package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;

/** The headers that browsers heed, on every reply that has not said otherwise. */
public final class SafeHeaders {

  /** Nothing from elsewhere, nothing inline; the console's own page widens this by a nonce. */
  private static final String PAGE = page("", "", "");

  /** What the wire answers is no page, whoever opens it. */
  private static final String WIRE = "default-src 'none'; frame-ancestors 'none'";

  public static final String POLICY = "Content-Security-Policy";

  private SafeHeaders() {}

  /**
   * The policy of a page whose look comes from elsewhere, in part, or that leads elsewhere.
   *
   * @param styles origins of stylesheets and fonts, each with a space before it
   * @param images origins of images, likewise
   * @param onwards origins that a form leads to once it is accepted, likewise
   */
  public static String page(String styles, String images, String onwards) {
    return "default-src 'none'; script-src 'self'; style-src 'self'%s; img-src 'self' data:%s;"
            .formatted(styles, images)
        + " font-src 'self'%s; connect-src 'self'; form-action 'self'%s; base-uri 'none';"
            .formatted(styles, onwards)
        + " frame-ancestors 'none'";
  }

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
