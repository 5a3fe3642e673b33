package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.source.SourceDatabases;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/sources}: the databases in which forms look things up, and how they stand. Needs the
 * role operator.
 */
@RestController
@RequestMapping("/api/sources")
class SourcesController {

  private final SourceDatabases sources;

  SourcesController(SourceDatabases sources) {
    this.sources = sources;
  }

  record AllSources(List<SourceDatabases.Standing> sources) {}

  @Needs(Right.OPERATOR)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(new AllSources(sources.standing()));
  }
}
