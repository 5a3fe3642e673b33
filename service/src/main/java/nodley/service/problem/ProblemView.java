package nodley.service.problem;

import jakarta.servlet.http.HttpServletRequest;

/**
 * Port to the pages, which render a problem for a person who asked for HTML. Called on the
 * request's thread; it must not fail, for it is the answer to all that does.
 */
public interface ProblemView {
  byte[] render(Problem problem, HttpServletRequest request);
}
