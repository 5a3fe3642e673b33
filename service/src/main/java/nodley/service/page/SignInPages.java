package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.input.Input;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.SessionCookie;
import nodley.service.http.Bodies;
import nodley.service.http.MemberReader;
import nodley.service.http.Query;
import nodley.service.operator.Logged;
import nodley.service.people.PasswordChange;
import nodley.service.people.Passwords;
import nodley.service.people.SignIn;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.access.Sessions;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, and setting a password, on pages; with and without script. */
@RestController
class SignInPages {

  private final Sessions sessions;
  private final People people;
  private final SignIn signIn;
  private final PasswordChange change;
  private final Templates templates;
  private final ThemeController looks;
  private final Bodies bodies;

  SignInPages(
      Store store,
      SignIn signIn,
      PasswordChange change,
      Templates templates,
      ThemeController looks,
      Bodies bodies) {
    this.sessions = store.sessions();
    this.people = store.people();
    this.signIn = signIn;
    this.change = change;
    this.bodies = bodies;
    this.looks = looks;
    this.templates = templates;
  }

  @Needs(Right.NOTHING)
  @GetMapping("/sign-in")
  ResponseEntity<byte[]> ask(HttpServletRequest request) {
    return page(HttpStatus.OK, "Sign in", "sign-in", view(to(Query.of(request, "to").get("to"))));
  }

  @Logged("sign-in")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/sign-in")
  ResponseEntity<byte[]> signIn(HttpServletRequest request) throws IOException {
    Map<String, String> sent = bodies.texts(request);
    String to = to(Optional.ofNullable(sent.get("to")));
    Map<String, Object> view = view(to);
    view.put("name", sent.getOrDefault("name", ""));
    boolean withKey = sent.containsKey("key");
    boolean complete = true;
    for (String member : withKey ? List.of("key") : List.of("name", "password")) {
      if (sent.getOrDefault(member, "").isBlank()) {
        view.put(member + "Error", member.equals("key") ? "The key is required." : "Required.");
        complete = false;
      }
    }
    if (complete) {
      try {
        return onwards(to, SessionCookie.opening(signIn.open(sent, request).secret(), request));
      } catch (Problem problem) {
        if (problem.status() != 401) {
          throw problem;
        }
        view.put(withKey ? "keyError" : "passwordError", problem.detail());
      }
    }
    return page(HttpStatus.UNPROCESSABLE_CONTENT, "Sign in", "sign-in", view);
  }

  private static Map<String, Object> view(String to) {
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("to", to);
    view.put("name", "");
    view.put("nameError", "");
    view.put("passwordError", "");
    view.put("keyError", "");
    return view;
  }

  @Needs(Right.NOTHING)
  @GetMapping("/set-password")
  ResponseEntity<byte[]> askPassword(HttpServletRequest request) {
    return passwordPage(Query.of(request, "link").get("link").orElse(""), "");
  }

  @Logged("set-password")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/set-password")
  ResponseEntity<byte[]> setPassword(HttpServletRequest request) throws IOException {
    Input input = bodies.submission(request);
    MemberReader members =
        new MemberReader(
            input,
            "A password that is set",
            "No password was set.",
            List.of("link", "name", "password"));
    String link = members.text("link");
    try {
      SignIn.Opened opened = change.byLink(members, link, members.secret("password"), request);
      return onwards("/forms", SessionCookie.opening(opened.secret(), request));
    } catch (Problem problem) {
      if (problem.status() != 422 && problem.status() != 410) {
        throw problem;
      }
      return passwordPage(link, members.firstError().orElse(""));
    }
  }

  private ResponseEntity<byte[]> passwordPage(String link, String error) {
    Optional<Person> person = people.ofLink(link);
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("link", link);
    view.put("person", person.map(Person::name).orElse(""));
    view.put("shortest", Passwords.SHORTEST);
    view.put("error", error);
    view.put(
        "ended",
        person.isPresent()
            ? ""
            : "This link has ended: it is good for 24 hours and for one use. Ask whoever runs this"
                + " service for another one.");
    HttpStatus status =
        person.isEmpty()
            ? HttpStatus.GONE
            : error.isEmpty() ? HttpStatus.OK : HttpStatus.UNPROCESSABLE_CONTENT;
    return page(status, "Set a password", "set-password", view);
  }

  @Logged("sign-out")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/sign-out")
  ResponseEntity<byte[]> signOut(HttpServletRequest request) {
    SessionCookie.of(request).ifPresent(sessions::close);
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

  private ResponseEntity<byte[]> page(
      HttpStatus status, String title, String content, Map<String, Object> view) {
    return templates.reply(status, looks.ofService(), templates.words(), title, content, view, "");
  }
}
