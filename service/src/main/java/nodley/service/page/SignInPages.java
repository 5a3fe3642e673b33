package nodley.service.page;

import static nodley.service.page.ServicePages.seeOther;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.SafeCookie;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.issuer.Issuer;
import nodley.service.issuer.Issuers;
import nodley.service.issuer.OpenIdSignIn;
import nodley.service.limits.IssuerSettings;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.people.SignIn;
import nodley.service.people.SignOut;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.Sessions;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out on pages, here or at an issuer; with and without script. */
@RestController
class SignInPages {

  private final Sessions sessions;
  private final SignIn signIn;
  private final SignOut signOut;
  private final Issuers issuers;
  private final OpenIdSignIn openId;
  private final ServicePages pages;
  private final Bodies bodies;

  SignInPages(
      Store store,
      SignIn signIn,
      SignOut signOut,
      Issuers issuers,
      OpenIdSignIn openId,
      ServicePages pages,
      Bodies bodies) {
    this.sessions = store.sessions();
    this.signIn = signIn;
    this.signOut = signOut;
    this.issuers = issuers;
    this.openId = openId;
    this.pages = pages;
    this.bodies = bodies;
  }

  @Needs(Right.NOTHING)
  @GetMapping("/sign-in")
  ResponseEntity<byte[]> ask(HttpServletRequest request) {
    return page(HttpStatus.OK, view(to(Query.of(request, "to").get("to"))));
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
        view.put(member + "Error", pages.word("sign-in.required"));
        complete = false;
      }
    }
    if (complete) {
      try {
        String secret = signIn.open(sent, request).secret();
        return seeOther(URI.create(to), SafeCookie.SESSION.set(secret, request));
      } catch (Problem problem) {
        if (problem.status() != 401) {
          throw problem;
        }
        view.put(
            withKey ? "keyError" : "passwordError",
            pages.word(withKey ? "sign-in.wrong-key" : "sign-in.wrong"));
      }
    }
    return page(HttpStatus.UNPROCESSABLE_CONTENT, view);
  }

  /** Sends the browser to an issuer. */
  @Needs(Right.NOTHING)
  @GetMapping("/sign-in/with/{issuer}")
  ResponseEntity<byte[]> begin(@PathVariable String issuer, HttpServletRequest request) {
    String to = to(Query.of(request, "to").get("to"));
    Issuer at = issuer(issuer);
    try {
      OpenIdSignIn.Begun begun = openId.begin(at, to, request);
      return seeOther(begun.address(), SafeCookie.SIGN_IN.set(begun.cookie(), request));
    } catch (OpenIdSignIn.Failed e) {
      return failed(e, at.settings(), to);
    }
  }

  /** The issuer sends the browser back to here. */
  @Logged("sign-in")
  @Needs(Right.NOTHING)
  @GetMapping("/sign-in/from/{issuer}")
  ResponseEntity<byte[]> finish(@PathVariable String issuer, HttpServletRequest request) {
    Issuer at = issuer(issuer);
    try {
      // Other parameters mean nothing here, and are no error (RFC 6749, section 4.1.2).
      OpenIdSignIn.Finished finished =
          openId.finish(
              at,
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
      return failed(e, at.settings(), "/forms");
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

  private ResponseEntity<byte[]> failed(
      OpenIdSignIn.Failed failed, IssuerSettings issuer, String to) {
    Map<String, Object> view = view(to);
    view.put(
        "failed",
        pages.word(
            "sign-in." + failed.why().word(),
            Map.of("issuer", issuer.label(), "minutes", OpenIdSignIn.TIME.toMinutes())));
    return page(HttpStatus.valueOf(failed.why().status()), view);
  }

  private Map<String, Object> view(String to) {
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("to", to);
    view.put("failed", "");
    view.put("name", "");
    view.put("nameError", "");
    view.put("passwordError", "");
    view.put("keyError", "");
    view.put(
        "issuers",
        issuers.forSigningIn().stream()
            .map(Issuer::settings)
            .map(
                it ->
                    Map.of(
                        "name",
                        it.name(),
                        "with",
                        pages.word("sign-in.with", Map.of("issuer", it.label()))))
            .toList());
    return view;
  }

  private ResponseEntity<byte[]> page(HttpStatus status, Map<String, Object> view) {
    return pages.page(status, "sign-in", "sign-in", view);
  }

  @Logged("sign-out")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/sign-out")
  ResponseEntity<byte[]> signOut(HttpServletRequest request) {
    Optional<URI> issuer = signOut.end(request);
    String cookie = SafeCookie.SESSION.remove(request);
    return issuer.isEmpty()
        ? seeOther(URI.create("/forms"), cookie)
        : signOutAt(issuer.get(), cookie);
  }

  /**
   * A page that goes on to an issuer. The answer to a form may not lead there itself: that would
   * take a policy that lets all forms of the page be sent there.
   */
  private ResponseEntity<byte[]> signOutAt(URI issuer, String cookie) {
    ResponseEntity<byte[]> page =
        pages.page(
            HttpStatus.OK, "signing-out", "signing-out", Map.of("address", issuer.toString()));
    return ResponseEntity.status(page.getStatusCode())
        .headers(page.getHeaders())
        .header(HttpHeaders.SET_COOKIE, cookie)
        .header("Refresh", "0; url=" + issuer)
        .body(page.getBody());
  }

  /** Only a path of this service is gone to. */
  private static String to(Optional<String> to) {
    return to.filter(path -> path.matches("/[A-Za-z0-9][A-Za-z0-9/_-]*")).orElse("/forms");
  }
}
