package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Set;

/**
 * Detects changes that another site had a browser send, by {@code Sec-Fetch-Site}, else {@code
 * Origin} (CSRF protection).
 */
final class Origins {

  private static final Set<String> SAFE = Set.of("GET", "HEAD", "OPTIONS", "TRACE");
  private static final Set<String> OWN = Set.of("same-origin", "none");

  private Origins() {}

  /**
   * True for an unsafe method (RFC 9110, section 9.2.1) from another origin: by {@code
   * Sec-Fetch-Site} (Fetch Metadata) where it is sent, else by {@code Origin}. Programs send
   * neither, and are not led by pages.
   */
  static boolean isForeignChange(HttpServletRequest request) {
    if (SAFE.contains(request.getMethod())) {
      return false;
    }
    String site = request.getHeader("Sec-Fetch-Site");
    if (site != null) {
      return !OWN.contains(site);
    }
    String origin = request.getHeader("Origin");
    return origin != null && !isOwn(origin, request);
  }

  /** True if a page of this service had a browser send a request. */
  static boolean isOfOwnPage(HttpServletRequest request) {
    String site = request.getHeader("Sec-Fetch-Site");
    String origin = request.getHeader("Origin");
    return site != null ? site.equals("same-origin") : origin != null && isOwn(origin, request);
  }

  private static boolean isOwn(String origin, HttpServletRequest request) {
    return origin.equals(request.getScheme() + "://" + request.getHeader("Host"));
  }
}
