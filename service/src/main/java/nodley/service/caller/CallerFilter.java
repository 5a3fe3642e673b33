package nodley.service.caller;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemWriter;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Authenticates the caller for the rest of the filter chain, and for as long as that takes: {@link
 * Caller#current} tells it on the request's thread, and is forgotten afterwards. Who shows
 * credentials that are wrong gets the {@link Problem} as a reply, and nothing further on runs; who
 * shows none is a stranger. A preflight request (Fetch Standard, CORS protocol) is answered here.
 * Thread-safe.
 */
final class CallerFilter extends OncePerRequestFilter {

  private final Authenticator authenticator;
  private final CrossOrigin crossOrigin;
  private final ProblemWriter problems;

  CallerFilter(Authenticator authenticator, CrossOrigin crossOrigin, ProblemWriter problems) {
    this.problems = problems;
    this.crossOrigin = crossOrigin;
    this.authenticator = authenticator;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    crossOrigin.write(request, response);
    if (crossOrigin.answered(request, response)) {
      return;
    }
    try {
      authenticator.recognise(request);
    } catch (Problem problem) {
      problems.write(problem, request, response);
      return;
    }
    try {
      chain.doFilter(request, response);
    } finally {
      authenticator.forget();
    }
  }
}
