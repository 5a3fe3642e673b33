package nodley.service.page;

import static nodley.service.page.ServicePages.seeOther;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.SafeCookie;
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
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** The page of a link by which a person sets a password; with and without script. */
@RestController
class PasswordPages {

  private final People people;
  private final PasswordChange change;
  private final ServicePages pages;
  private final Bodies bodies;

  PasswordPages(
      Store store, PasswordChange change, Passwords passwords, ServicePages pages, Bodies bodies) {
    this.people = store.people();
    this.change = change;
    this.pages = pages;
    this.bodies = bodies;
  }

  @Needs(Right.NOTHING)
  @GetMapping("/set-password")
  ResponseEntity<byte[]> ask(HttpServletRequest request) {
    return page(Query.of(request, "link").get("link").orElse(""), "");
  }

  @Logged("set-password")
  @Needs(Right.SAME_ORIGIN)
  @PostMapping("/set-password")
  ResponseEntity<byte[]> set(HttpServletRequest request) throws IOException {
    MemberReader members =
        PasswordChange.reader(bodies.submission(request), "link", "name", "password");
    String link = members.text("link");
    String password = members.secret("password");
    try {
      SignIn.Opened opened = change.byLink(members, link, password, request);
      return seeOther(URI.create("/forms"), SafeCookie.SESSION.set(opened.secret(), request));
    } catch (Problem problem) {
      if (problem.status() != 422 && problem.status() != 410) {
        throw problem;
      }
      return page(link, error(pages, members, "password", password));
    }
  }

  /** What is wrong with a password that was sent as a member, in words; empty if nothing is. */
  static String error(ServicePages pages, MemberReader members, String member, String password) {
    return members
        .code(member)
        .map(
            code ->
                pages.word(
                    code.equals("value-missing") ? "sign-in.required" : "set-password." + code,
                    Map.of(
                        "shortest", Passwords.SHORTEST,
                        "longest", Passwords.LONGEST,
                        "length", password.codePointCount(0, password.length()))))
        .orElse("");
  }

  private ResponseEntity<byte[]> page(String link, String error) {
    Optional<Person> person = people.ofLink(link);
    String name = person.map(Person::name).orElse("");
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("link", link);
    view.put("person", name);
    view.put("for", pages.word("set-password.for", Map.of("name", name)));
    view.put("shortest", Passwords.SHORTEST);
    view.put("help", pages.word("set-password.help", Map.of("shortest", Passwords.SHORTEST)));
    view.put("error", error);
    view.put("ended", person.isEmpty());
    HttpStatus status =
        person.isEmpty()
            ? HttpStatus.GONE
            : error.isEmpty() ? HttpStatus.OK : HttpStatus.UNPROCESSABLE_CONTENT;
    return pages.page(status, "set-password", "set-password", view);
  }
}
