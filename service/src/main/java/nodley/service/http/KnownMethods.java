package nodley.service.http;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpFilter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Set;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemWriter;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;

/** Answers unknown methods with 501 (RFC 9110, section 9.1), at every address. */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 1)
class KnownMethods extends HttpFilter {

  private static final long serialVersionUID = 1;

  private static final Set<String> KNOWN =
      Set.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS", "TRACE", "CONNECT");

  private final transient ProblemWriter writer;

  KnownMethods(ProblemWriter writer) {
    this.writer = writer;
  }

  @Override
  protected void doFilter(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws IOException, ServletException {
    if (KNOWN.contains(request.getMethod())) {
      chain.doFilter(request, response);
      return;
    }
    writer.write(
        Problem.of(
            501,
            "method",
            "This method is not known",
            Wellformed.of(request.getMethod())
                + " is no method that this service knows; methods are written in capitals."),
        request,
        response);
  }
}
