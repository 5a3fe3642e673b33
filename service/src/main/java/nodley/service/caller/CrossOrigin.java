package nodley.service.caller;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.store.Forms;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Lets pages of other sites call a form that names them among its {@code origins} (CORS, Fetch
 * section 3.3), never with a person's session. The page's script itself is for everybody.
 */
final class CrossOrigin extends OncePerRequestFilter {

  private static final Pattern OF_FORM =
      Pattern.compile("/(?:api/)?forms/([a-z][a-z0-9-]{0,39})(?:/.*)?");

  private static final String SCRIPT = "/page/";

  private final Forms forms;

  CrossOrigin(Forms forms) {
    this.forms = forms;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String origin = request.getHeader("Origin");
    if (request.getRequestURI().startsWith(SCRIPT)) {
      response.setHeader("Access-Control-Allow-Origin", "*");
    } else if (origin != null && isNamed(request.getRequestURI(), origin)) {
      response.setHeader("Access-Control-Allow-Origin", origin);
      response.addHeader("Vary", "Origin");
      response.setHeader(
          "Access-Control-Expose-Headers", "ETag, Location, Retry-After, X-Request-Id");
      if (request.getMethod().equals("OPTIONS")
          && request.getHeader("Access-Control-Request-Method") != null) {
        allow(response);
        return;
      }
    }
    chain.doFilter(request, response);
  }

  private boolean isNamed(String uri, String origin) {
    Matcher form = OF_FORM.matcher(uri);
    return form.matches()
        && forms
            .find(form.group(1))
            .filter(it -> it.form().pages().origins().contains(origin))
            .isPresent();
  }

  /** Answers the question that a browser asks before it sends what a plain form could not. */
  private static void allow(HttpServletResponse response) {
    response.setHeader("Access-Control-Allow-Methods", "GET, POST, PUT, PATCH, DELETE");
    response.setHeader(
        "Access-Control-Allow-Headers",
        "Content-Type, Accept-Language, Authorization, Idempotency-Key, If-Match, If-None-Match");
    response.setHeader("Access-Control-Max-Age", "600");
    response.setStatus(HttpServletResponse.SC_NO_CONTENT);
  }
}
