package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.List;
import nodley.service.limits.HttpsSettings;
import org.springframework.stereotype.Component;

/**
 * Security headers of replies: content security policy, framing, referrer, permissions, HSTS. A
 * content security policy that is set already stays.
 */
@Component
public final class SafeHeaders {

  /** Nothing from elsewhere, nothing inline; the console's own page widens this by a nonce. */
  private static final String PAGE = page("", "", "", List.of());

  /** What the wire answers is no page, whoever opens it. */
  private static final String WIRE = "default-src 'none'; frame-ancestors 'none'";

  private static final String NO_FRAMES = "frame-ancestors 'none'";

  /** Pages use none of these; a site that frames one cannot lend it what it has itself. */
  private static final String PERMISSIONS =
      "camera=(), geolocation=(), microphone=(), payment=(), usb=()";

  public static final String POLICY = "Content-Security-Policy";

  private final long hstsSeconds;

  SafeHeaders(HttpsSettings https) {
    this.hstsSeconds = https.hsts().toSeconds();
  }

  /**
   * The policy of a page whose look comes from elsewhere, in part, that leads elsewhere, or that is
   * shown within pages from elsewhere.
   *
   * @param styles origins of stylesheets and fonts, each with a space before it
   * @param images origins of images, likewise
   * @param onwards origins that a form leads to once it is accepted, likewise
   * @param frames origins whose pages may show this one in a frame
   */
  public static String page(String styles, String images, String onwards, List<String> frames) {
    return "default-src 'none'; script-src 'self'; style-src 'self'%s; img-src 'self' data:%s;"
            .formatted(styles, images)
        + " font-src 'self'%s; connect-src 'self'; form-action 'self'%s; base-uri 'none'; "
            .formatted(styles, onwards)
        + (frames.isEmpty() ? NO_FRAMES : "frame-ancestors 'self' " + String.join(" ", frames));
  }

  /** Sets them on a reply, before it is sent. */
  public void write(HttpServletRequest request, HttpServletResponse response) {
    response.setHeader("X-Content-Type-Options", "nosniff");
    if (hstsSeconds > 0 && request.isSecure()) {
      // RFC 6797, section 7.2: over TLS only.
      response.setHeader("Strict-Transport-Security", "max-age=" + hstsSeconds);
    }
    if (request.getServletPath().startsWith("/api/")) {
      if (response.getHeader(POLICY) == null) {
        response.setHeader(POLICY, WIRE);
      }
      return;
    }
    response.setHeader("Referrer-Policy", "same-origin");
    response.setHeader("Permissions-Policy", PERMISSIONS);
    response.setHeader("Cross-Origin-Opener-Policy", "same-origin");
    String policy = response.getHeader(POLICY);
    if (policy == null) {
      response.setHeader(POLICY, PAGE);
    }
    if (policy == null || policy.contains(NO_FRAMES)) {
      response.setHeader("X-Frame-Options", "DENY");
    }
  }
}
