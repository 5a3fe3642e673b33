package nodley.service.limits;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpFilter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.regex.Pattern;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemWriter;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;

/**
 * Rejects addresses that are too long or malformed (a percent sign without two hexadecimal digits,
 * RFC 3986, section 2.1) before anything parses them.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 1)
final class ReadableAddress extends HttpFilter {

  private static final long serialVersionUID = 1;
  private static final Pattern BROKEN = Pattern.compile("%(?![0-9A-Fa-f]{2})");

  private final long most;
  private final transient ProblemWriter problems;

  ReadableAddress(Limits limits, ProblemWriter problems) {
    this.most = limits.request().address().toBytes();
    this.problems = problems;
  }

  @Override
  protected void doFilter(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws IOException, ServletException {
    String query = request.getQueryString();
    long length = request.getRequestURI().length() + (query == null ? 0 : query.length() + 1L);
    if (length > most) {
      problems.write(
          Problem.of(
              414,
              "too-long",
              "The address is too long",
              "It may have " + most + " characters, and has " + length + "."),
          request,
          response);
      return;
    }
    String path = request.getRequestURI();
    if (path.indexOf('%') >= 0 && BROKEN.matcher(path).find()) {
      problems.write(
          Problem.of(
              400,
              "bad-address",
              "The address cannot be read",
              "It has a percent sign in its path that no two hexadecimal digits follow."),
          request,
          response);
      return;
    }
    if (request.getContentType() != null) {
      // Spring would look up whatever charset the client names, and fail where there is none such.
      request.setCharacterEncoding(StandardCharsets.UTF_8);
    }
    chain.doFilter(request, response);
  }
}
