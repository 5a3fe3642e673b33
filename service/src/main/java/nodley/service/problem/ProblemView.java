package nodley.service.problem;

import jakarta.servlet.http.HttpServletRequest;

/** Renders a problem for a person. Implemented by the pages. */
public interface ProblemView {
  byte[] render(Problem problem, HttpServletRequest request);
}
