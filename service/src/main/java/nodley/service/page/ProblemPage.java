package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemView;
import org.springframework.stereotype.Component;

/** Shows a problem to a person, and keeps what they typed on the page of a form. */
@Component
class ProblemPage implements ProblemView {

  private final ServicePages pages;
  private final TypedValues typed;

  ProblemPage(ServicePages pages, TypedValues typed) {
    this.pages = pages;
    this.typed = typed;
  }

  @Override
  public byte[] render(Problem problem, HttpServletRequest request) {
    Optional<TypedValues.Typed> kept = typed.of(request);
    try {
      return render(problem, request, kept);
    } catch (Problem tooLarge) {
      // With what was typed it would be larger than a page may be.
      return render(problem, request, Optional.empty());
    }
  }

  private byte[] render(
      Problem problem, HttpServletRequest request, Optional<TypedValues.Typed> kept) {
    boolean signIn = problem.status() == 401;
    Map<String, Object> view = new HashMap<>();
    String title = signIn ? pages.word("sign-in") : problem.title();
    view.put("title", title);
    String needed = kept.isPresent() ? "" : pages.word("sign-in.needed");
    view.put("detail", signIn ? needed : problem.detail());
    // Whoever signs in beside what was typed goes nowhere else from there.
    String to = kept.isPresent() ? "/account" : request.getRequestURI();
    view.put(
        "signIn", signIn ? "/sign-in?to=" + URLEncoder.encode(to, StandardCharsets.UTF_8) : "");
    view.put("typed", kept.map(List::of).orElse(List.of()));
    view.put("kept", pages.word(signIn ? "typed.sign-in" : "typed.later"));
    return pages.render(title, "problem", view);
  }
}
