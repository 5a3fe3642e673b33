package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.RehearsalTokens;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.submission.Submissions;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code POST /api/forms/{form}/rehearsal}: begins a rehearsal on a page of another site. */
@RestController
class RehearsalController {

  private final Submissions submissions;
  private final RehearsalTokens tokens;
  private final Clock clock;

  RehearsalController(Submissions submissions, RehearsalTokens tokens, Clock clock) {
    this.submissions = submissions;
    this.tokens = tokens;
    this.clock = clock;
  }

  /**
   * A rehearsal.
   *
   * @param token stands behind {@code #nodley-rehearsal=} in the address of the page
   * @param until when it ends: RFC 3339, UTC
   */
  record Begun(String token, String until) {}

  @Needs(Right.AUTHOR)
  @PostMapping("/api/forms/{form}/rehearsal")
  ResponseEntity<byte[]> begin(@PathVariable String form, HttpServletRequest request) {
    Query.of(request);
    Caller.Known author = (Caller.Known) Caller.current();
    submissions.form(form, author);
    Instant until = clock.instant().plus(RehearsalTokens.TIME).truncatedTo(ChronoUnit.SECONDS);
    return Reply.json(
        Reply.status(201), new Begun(tokens.make(author, form, until), until.toString()));
  }
}
