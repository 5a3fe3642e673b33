package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemView;
import org.springframework.stereotype.Component;

/** Shows a problem to a person. */
@Component
class ProblemPage implements ProblemView {

  private final Templates templates;
  private final ThemeController looks;

  ProblemPage(Templates templates, ThemeController looks) {
    this.templates = templates;
    this.looks = looks;
  }

  @Override
  public byte[] render(Problem problem, HttpServletRequest request) {
    boolean signIn = problem.status() == 401;
    String to = URLEncoder.encode(request.getRequestURI(), StandardCharsets.UTF_8);
    return templates.page(
        looks.ofService(),
        templates.words(),
        problem.title(),
        "problem",
        Map.of(
            "title", problem.title(),
            "detail", signIn ? "Only people who are signed in may see this." : problem.detail(),
            "signIn", signIn ? "/sign-in?to=" + to : ""),
        "");
  }
}
