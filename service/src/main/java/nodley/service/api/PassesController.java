package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.Passes;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.store.Store;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code /api/passes}: makes passes for people who have signed in at another site. */
@RestController
@RequestMapping("/api/passes")
class PassesController {

  private final Passes passes;
  private final Forms forms;
  private final Bodies bodies;
  private final Clock clock;

  PassesController(Passes passes, Store store, Bodies bodies, Clock clock) {
    this.passes = passes;
    this.forms = store.forms();
    this.bodies = bodies;
    this.clock = clock;
  }

  /**
   * A pass that was just made.
   *
   * @param until when it ends: RFC 3339, UTC
   * @param person the id that records have as their owner
   */
  record Made(String pass, String until, String person) {}

  @Needs(Right.VOUCH)
  @PostMapping
  ResponseEntity<byte[]> make(HttpServletRequest request) throws IOException {
    Query.of(request);
    List<String> published = forms.all().stream().map(PublishedForm::name).toList();
    PassInput input =
        new PassInput(bodies.submission(request), (Caller.Known) Caller.current(), published);
    // Never shorter than was asked for: pages count its seconds themselves.
    Instant until =
        clock.instant().plus(input.time()).truncatedTo(ChronoUnit.SECONDS).plusSeconds(1);
    return Reply.json(
        Reply.status(201),
        new Made(
            passes.make(input.holder(), input.time(), until),
            until.toString(),
            input.holder().person()));
  }
}
