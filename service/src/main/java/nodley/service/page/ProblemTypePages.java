package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Map;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.problem.Problem;
import nodley.service.problem.ProblemTypes;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Shows {@code /problems/{type}}: what a problem type means. */
@RestController
class ProblemTypePages {

  private final ServicePages pages;

  ProblemTypePages(ServicePages pages) {
    this.pages = pages;
  }

  @Needs(Right.NOTHING)
  @GetMapping("/problems/{type}")
  ResponseEntity<byte[]> type(@PathVariable String type, HttpServletRequest request) {
    String meaning =
        ProblemTypes.meaning(type).orElseThrow(() -> Problem.notFound(request.getRequestURI()));
    byte[] page =
        pages.render(
            type, "problem", Map.of("title", "Problem: " + type, "detail", meaning, "signIn", ""));
    return ResponseEntity.ok().contentType(MediaType.valueOf("text/html;charset=UTF-8")).body(page);
  }
}
