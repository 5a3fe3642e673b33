package nodley.service.problem;

import jakarta.servlet.http.HttpServletRequest;

/** Shows a problem to a person; the pages implement it. */
public interface ProblemView {
  byte[] render(Problem problem, HttpServletRequest request);
}
