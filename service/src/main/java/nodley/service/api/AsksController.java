package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.ask.AskedServices;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/asks}: the services outside that are asked about submissions, and how they stand.
 * Needs the role operator.
 */
@RestController
@RequestMapping("/api/asks")
class AsksController {

  private final AskedServices asked;

  AsksController(AskedServices asked) {
    this.asked = asked;
  }

  record AllAsks(List<AskedServices.Standing> asks) {}

  @Needs(Right.OPERATOR)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(new AllAsks(asked.standing()));
  }
}
