package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.input.Input;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.SafeCookie;
import nodley.service.http.Bodies;
import nodley.service.http.MemberReader;
import nodley.service.http.Query;
import nodley.service.issuer.Issuer;
import nodley.service.issuer.Issuers;
import nodley.service.issuer.OpenIdSignIn;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.people.PasswordChange;
import nodley.service.people.Passwords;
import nodley.service.people.SignIn;
import nodley.service.people.SignOut;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.access.Sessions;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, and setting a password, on pages; with and without script. */
@RestController
class SignInPages {

  private final Sessions sessions;
  private final People people;
  private final SignIn signIn;
  private final SignOut signOut;
  private final PasswordChange change;
  private final Issuers issuers;
  private final OpenIdSignIn openId;
  private final Templates templates;
  private final ThemeController looks;
  private final Bodies bodies;

  SignInPages(
      Store store,
      SignIn signIn,
      SignOut signOut,
      PasswordChange change,
      Issuers issuers,
      OpenIdSignIn openId,
      Templates templates,
      ThemeController looks,
      Bodies bodies) {
    this.sessions = store.sessions();
    this.people = store.people();
    this.signIn = signIn;
    this.signOut = signOut;
    this.change = change;
    this.issuers = issuers;
    this.openId = openId;
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
        return seeOther(
            URI.create(to), SafeCookie.SESSION.set(signIn.open(sent, request).secret(), request));
      } catch (Problem problem) {
        if (problem.status() != 401) {
          throw problem;
        }
        view.put(withKey ? "keyError" : "passwordError", problem.detail());
      }
    }
    return page(HttpStatus.UNPROCESSABLE_CONTENT, "Sign in", "sign-in", view);
  }

  /** Sends the browser to an issuer. */
  @Needs(Right.NOTHING)
  @GetMapping("/sign-in/with/{issuer}")
  ResponseEntity<byte[]> begin(@PathVariable String issuer, HttpServletRequest request) {
    String to = to(Query.of(request, "to").get("to"));
    try {
      OpenIdSignIn.Begun begun = openId.begin(issuer(issuer), to, request);
      return seeOther(begun.address(), SafeCookie.SIGN_IN.set(begun.cookie(), request));
    } catch (OpenIdSignIn.Failed e) {
      return failed(e, to);
    }
  }

  /** The issuer sends the browser back to here. */
  @Logged("sign-in")
  @Needs(Right.NOTHING)
  @GetMapping("/sign-in/from/{issuer}")
  ResponseEntity<byte[]> finish(@PathVariable String issuer, HttpServletRequest request) {
    try {
      // Other parameters mean nothing here, and are no error (RFC 6749, section 4.1.2).
      OpenIdSignIn.Finished finished =
          openId.finish(
              issuer(issuer),
              new OpenIdSignIn.Returned(
                  SafeCookie.SIGN_IN.of(request),
                  Query.first(request, "state"),
                  Query.first(request, "code"),
                  Query.first(request, "error"),
                  Query.first(request, "iss")));
      Sessions.Issued issued = finished.issued();
      LoggedCalls.by(request, issued.person().id());
      String secret = sessions.openFor(issued, request.getRemoteAddr());
      return seeOther(
          URI.create(finished.to()),
          SafeCookie.SESSION.set(secret, request),
          SafeCookie.SIGN_IN.remove(request));
    } catch (OpenIdSignIn.Failed e) {
      return failed(e, "/forms");
    }
  }

  private Issuer issuer(String name) {
    return issuers
        .forSigningIn(name)
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-path",
                    "There is nothing here",
                    "Nobody signs in with \"" + Wellformed.of(name) + "\" here."));
  }

  private ResponseEntity<byte[]> failed(OpenIdSignIn.Failed failed, String to) {
    Map<String, Object> view = view(to);
    view.put("failed", failed.getMessage());
    return page(HttpStatus.valueOf(failed.status()), "Sign in", "sign-in", view);
  }

  private Map<String, Object> view(String to) {
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("to", to);
    view.put("failed", "");
    view.put(
        "issuers",
        issuers.forSigningIn().stream()
            .map(Issuer::settings)
            .map(it -> Map.of("name", it.name(), "label", it.label()))
            .toList());
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
      return seeOther(URI.create("/forms"), SafeCookie.SESSION.set(opened.secret(), request));
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
    Optional<URI> ending = signOut.end(request);
    String cookie = SafeCookie.SESSION.remove(request);
    return ending.isEmpty() ? seeOther(URI.create("/forms"), cookie) : ended(ending.get(), cookie);
  }

  /** Only a path of this service is gone to. */
  private static String to(Optional<String> to) {
    return to.filter(path -> path.matches("/[A-Za-z0-9][A-Za-z0-9/_-]*")).orElse("/forms");
  }

  /**
   * A page that goes on to an issuer. The answer to a form may not lead there itself: that would
   * take a policy that lets all forms of the page be sent there.
   */
  private ResponseEntity<byte[]> ended(URI issuer, String cookie) {
    ResponseEntity<byte[]> page =
        page(HttpStatus.OK, "Signing out", "signing-out", Map.of("address", issuer.toString()));
    return ResponseEntity.status(page.getStatusCode())
        .headers(page.getHeaders())
        .header(HttpHeaders.SET_COOKIE, cookie)
        .header("Refresh", "0; url=" + issuer)
        .body(page.getBody());
  }

  private static ResponseEntity<byte[]> seeOther(URI address, String... cookies) {
    return ResponseEntity.status(HttpStatus.SEE_OTHER)
        .header(HttpHeaders.SET_COOKIE, cookies)
        .location(address)
        .build();
  }

  private ResponseEntity<byte[]> page(
      HttpStatus status, String title, String content, Map<String, Object> view) {
    return templates.reply(status, looks.ofService(), templates.words(), title, content, view, "");
  }
}
