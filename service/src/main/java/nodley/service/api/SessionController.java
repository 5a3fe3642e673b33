package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.KeyGuesses;
import nodley.service.caller.SessionCookie;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.Keys;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** {@code /api/session}: signs a person in with a key, tells who they are, signs out. */
@RestController
@RequestMapping("/api/session")
class SessionController {

  private final Keys keys;
  private final KeyGuesses guesses;
  private final Bodies bodies;

  SessionController(Store store, KeyGuesses guesses, Bodies bodies) {
    this.bodies = bodies;
    this.guesses = guesses;
    this.keys = store.keys();
  }

  @Needs(Right.NO_UNKNOWN_KEY)
  @GetMapping
  ResponseEntity<byte[]> who(HttpServletRequest request) {
    Query.of(request);
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("caller", null);
    if (Caller.current() instanceof Caller.Known known) {
      json.put("caller", known.name());
      json.put("roles", new TreeSet<>(known.roles()));
      json.put("forms", new TreeSet<>(known.forms()));
    }
    return Reply.ok(json);
  }

  @Logged("sign-in")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping
  ResponseEntity<byte[]> signIn(HttpServletRequest request) throws IOException {
    Query.of(request);
    String key = bodies.texts(request).getOrDefault("key", "").strip();
    Optional<String> name = guesses.find(key, request).map(Key::name);
    if (name.isEmpty()) {
      throw Problem.notSignedIn(
          key.isEmpty() ? "Send {\"key\": \"…\"}." : "This key is not known here.");
    }
    LoggedCalls.by(request, name.get());
    return Reply.json(
        Reply.status(200)
            .header(
                HttpHeaders.SET_COOKIE,
                SessionCookie.opening(keys.openSession(name.get()), request)),
        Map.of("caller", name.get()));
  }

  @Logged("sign-out")
  @Needs(Right.SAME_ORIGIN)
  @DeleteMapping
  ResponseEntity<byte[]> signOut(HttpServletRequest request) {
    Query.of(request);
    SessionCookie.of(request).ifPresent(keys::closeSession);
    return Reply.status(204).header(HttpHeaders.SET_COOKIE, SessionCookie.ending(request)).build();
  }
}
