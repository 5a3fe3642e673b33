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

  private final ServicePages pages;

  ProblemPage(ServicePages pages) {
    this.pages = pages;
  }

  @Override
  public byte[] render(Problem problem, HttpServletRequest request) {
    boolean signIn = problem.status() == 401;
    String to = URLEncoder.encode(request.getRequestURI(), StandardCharsets.UTF_8);
    String title = signIn ? pages.word("sign-in") : problem.title();
    return pages.render(
        title,
        "problem",
        Map.of(
            "title", title,
            "detail", signIn ? pages.word("sign-in.needed") : problem.detail(),
            "signIn", signIn ? "/sign-in?to=" + to : ""));
  }
}
