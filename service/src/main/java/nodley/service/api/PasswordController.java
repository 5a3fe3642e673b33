package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.SafeCookie;
import nodley.service.http.Bodies;
import nodley.service.http.MemberReader;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.people.PasswordChange;
import nodley.service.people.SignIn;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code /api/password}: a person sets a password, by a link or by the one before. */
@RestController
@RequestMapping("/api/password")
class PasswordController {

  private final PasswordChange change;
  private final Bodies bodies;

  PasswordController(PasswordChange change, Bodies bodies) {
    this.change = change;
    this.bodies = bodies;
  }

  /** Sets the password, ends the person's other sessions, and signs in. */
  @Logged("set-password")
  @Needs(Right.SAME_ORIGIN)
  @PutMapping
  ResponseEntity<byte[]> set(HttpServletRequest request) throws IOException {
    Query.of(request);
    MemberReader members =
        PasswordChange.reader(bodies.submission(request), "link", "current", "password");
    String password = members.secret("password");
    SignIn.Opened opened =
        members.has("link") || !(Caller.current() instanceof Caller.Known known)
            ? change.byLink(members, members.text("link"), password, request)
            : change.byCurrent(members, known, members.secret("current"), password, request);
    return Reply.json(
        Reply.status(200)
            .header(HttpHeaders.SET_COOKIE, SafeCookie.SESSION.set(opened.secret(), request)),
        new SessionController.Opened(opened.caller()));
  }
}
