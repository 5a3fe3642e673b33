package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
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

  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping
  ResponseEntity<byte[]> who(HttpServletRequest request) {
    Query.of(request);
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("caller", null);
    if (Caller.current() instanceof Caller.Known known) {
      json.put("caller", known.name());
      if (!known.person().isEmpty()) {
        json.put("person", known.person());
        json.put("name", known.displayName());
        json.put("email", known.email());
      }
      json.put("roles", new TreeSet<>(known.roles()));
      json.put("forms", new TreeSet<>(known.forms()));
    } else {
      json.put("issuers", issuers.forSigningIn().stream().map(SessionController::json).toList());
    }
    return Reply.ok(json);
  }

  private static Map<String, String> json(Issuer issuer) {
    return Map.of(
        "label", issuer.settings().label(), "address", "/sign-in/with/" + issuer.settings().name());
  }

  @Logged("sign-in")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping
  ResponseEntity<byte[]> open(HttpServletRequest request) throws IOException {
    Query.of(request);
    SignIn.Opened opened = signIn.open(bodies.texts(request), request);
    return Reply.json(
        Reply.status(200)
            .header(HttpHeaders.SET_COOKIE, SafeCookie.SESSION.set(opened.secret(), request)),
        Map.of("caller", opened.caller()));
  }

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
            Map.of("signOutAt", issuer.get().toString()));
  }
}
