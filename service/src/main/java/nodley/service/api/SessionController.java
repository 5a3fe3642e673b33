package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.List;
import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.SafeCookie;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.issuer.Issuer;
import nodley.service.issuer.Issuers;
import nodley.service.operator.Logged;
import nodley.service.people.SignIn;
import nodley.service.people.SignOut;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/session}: signs a person in by name and password or with a key, tells who they are,
 * signs out.
 */
@RestController
@RequestMapping("/api/session")
class SessionController {

  private final SignIn signIn;
  private final SignOut signOut;
  private final Issuers issuers;
  private final Bodies bodies;

  SessionController(SignIn signIn, SignOut signOut, Issuers issuers, Bodies bodies) {
    this.bodies = bodies;
    this.signIn = signIn;
    this.signOut = signOut;
    this.issuers = issuers;
  }

  /**
   * Whoever asks, if they are known.
   *
   * @param caller the name of the person or key
   * @param person the id of the person; left out for a key, as are {@code name} and {@code email}
   * @param forms the forms that a key is limited to; none means all
   */
  record Who(
      String caller,
      Optional<String> person,
      Optional<String> name,
      Optional<String> email,
      SortedSet<String> roles,
      SortedSet<String> forms) {

    static Who of(Caller.Known known) {
      boolean isPerson = !known.person().isEmpty();
      return new Who(
          known.name(),
          Optional.of(known.person()).filter(_ -> isPerson),
          Optional.of(known.displayName()).filter(_ -> isPerson),
          Optional.of(known.email()).filter(_ -> isPerson),
          new TreeSet<>(known.roles()),
          new TreeSet<>(known.forms()));
    }
  }

  /**
   * Whoever asks, if they are not known.
   *
   * @param caller null
   * @param issuers where they may sign in
   */
  @JsonInclude(JsonInclude.Include.ALWAYS)
  record Nobody(Object caller, List<IssuerReply> issuers) {}

  /**
   * An issuer.
   *
   * @param address the path that leads to it
   */
  record IssuerReply(String label, String address) {

    static IssuerReply of(Issuer issuer) {
      return new IssuerReply(
          issuer.settings().label(), "/sign-in/with/" + issuer.settings().name());
    }
  }

  record Opened(String caller) {}

  /**
   * A session that has ended here.
   *
   * @param signOutAt the address at which it ends at the issuer, too
   */
  record SignedOut(String signOutAt) {}

  /** Answers 200 with whoever asks, or with where they can sign in if they are not known. */
  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping
  ResponseEntity<byte[]> who(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(Caller.current() instanceof Caller.Known known ? Who.of(known) : nobody());
  }

  private Nobody nobody() {
    return new Nobody(null, issuers.forSigningIn().stream().map(IssuerReply::of).toList());
  }

  /**
   * Signs in with a name and a password: 200 with the cookie of a session.
   *
   * @throws Problem 401 if they are not right; 429 after too many wrong ones
   */
  @Logged("sign-in")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping
  ResponseEntity<byte[]> open(HttpServletRequest request) throws IOException {
    Query.of(request);
    SignIn.Opened opened = signIn.open(bodies.texts(request), request);
    return Reply.json(
        Reply.status(200)
            .header(HttpHeaders.SET_COOKIE, SafeCookie.SESSION.set(opened.secret(), request)),
        new Opened(opened.caller()));
  }

  /** Signs out: 204, or 200 with the address at which the session of the issuer ends. */
  @Logged("sign-out")
  @Needs(Right.SAME_ORIGIN)
  @DeleteMapping
  ResponseEntity<byte[]> signOut(HttpServletRequest request) {
    Query.of(request);
    Optional<URI> issuer = signOut.end(request);
    String cookie = SafeCookie.SESSION.remove(request);
    return issuer.isEmpty()
        ? Reply.status(204).header(HttpHeaders.SET_COOKIE, cookie).build()
        : Reply.json(
            Reply.status(200).header(HttpHeaders.SET_COOKIE, cookie),
            new SignedOut(issuer.get().toString()));
  }
}
