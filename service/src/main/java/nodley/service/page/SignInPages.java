package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.Map;
import java.util.Optional;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.KeyGuesses;
import nodley.service.caller.SessionCookie;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.Keys;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out on pages, with and without script. */
@RestController
class SignInPages {

  private final Keys keys;
  private final KeyGuesses guesses;
  private final Templates templates;
  private final ThemeController looks;
  private final Bodies bodies;

  SignInPages(
      Store store, KeyGuesses guesses, Templates templates, ThemeController looks, Bodies bodies) {
    this.bodies = bodies;
    this.guesses = guesses;
    this.looks = looks;
    this.keys = store.keys();
    this.templates = templates;
  }

  @Needs(Right.NOTHING)
  @GetMapping("/sign-in")
  ResponseEntity<byte[]> ask(HttpServletRequest request) {
    return page(HttpStatus.OK, to(Query.of(request, "to").get("to")), "");
  }

  @Logged("sign-in")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/sign-in")
  ResponseEntity<byte[]> signIn(HttpServletRequest request) throws IOException {
    Map<String, String> sent = bodies.texts(request);
    String key = sent.getOrDefault("key", "").strip();
    String to = to(Optional.ofNullable(sent.get("to")));
    Optional<String> name = guesses.find(key, request).map(Key::name);
    if (name.isEmpty()) {
      String error = key.isEmpty() ? "The key is required." : "This key is not known here.";
      return page(HttpStatus.UNPROCESSABLE_CONTENT, to, error);
    }
    LoggedCalls.by(request, name.get());
    return onwards(to, SessionCookie.opening(keys.openSession(name.get()), request));
  }

  @Logged("sign-out")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/sign-out")
  ResponseEntity<byte[]> signOut(HttpServletRequest request) {
    SessionCookie.of(request).ifPresent(keys::closeSession);
    return onwards("/forms", SessionCookie.ending(request));
  }

  /** Only a path of this service is gone to. */
  private static String to(Optional<String> to) {
    return to.filter(path -> path.matches("/[A-Za-z0-9][A-Za-z0-9/_-]*")).orElse("/forms");
  }

  private static ResponseEntity<byte[]> onwards(String to, String cookie) {
    return ResponseEntity.status(HttpStatus.SEE_OTHER)
        .header(HttpHeaders.SET_COOKIE, cookie)
        .location(URI.create(to))
        .build();
  }

  private ResponseEntity<byte[]> page(HttpStatus status, String to, String error) {
    return templates.reply(
        status,
        looks.ofService(),
        templates.words(),
        "Sign in",
        "sign-in",
        Map.of("to", to, "error", error),
        "");
  }
}
