package nodley.service.problem;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.springframework.stereotype.Component;

/** Writes a problem as JSON below {@code /api}, as a page elsewhere. */
@Component
public final class ProblemWriter {

  private final ProblemView page;

  ProblemWriter(ProblemView page) {
    this.page = page;
  }

  /**
   * Writes a problem as JSON, or as a page for a browser; does nothing if the reply has been begun.
   */
  public void write(Problem problem, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    if (response.isCommitted()) {
      return;
    }
    response.resetBuffer();
    response.setStatus(problem.status());
    problem.headers().forEach(response::setHeader);
    response.setHeader("Cache-Control", "no-store");
    boolean forPerson = isPage(request);
    response.setContentType(forPerson ? "text/html;charset=UTF-8" : "application/problem+json");
    byte[] body = forPerson ? page.render(problem, request) : Json.bytes(problem.members());
    response.setContentLength(body.length);
    response.getOutputStream().write(body);
  }

  private static boolean isPage(HttpServletRequest request) {
    String path = String.valueOf(request.getAttribute("jakarta.servlet.error.request_uri"));
    String asked = path.equals("null") ? request.getRequestURI() : path;
    boolean ours = asked.equals("/") || asked.startsWith("/forms") || asked.startsWith("/sign-");
    String accept = request.getHeader("Accept");
    return ours || !asked.startsWith("/api") && accept != null && accept.contains("text/html");
  }
}
