package nodley.service.people;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import nodley.core.input.Input;
import nodley.service.caller.Caller;
import nodley.service.http.MemberReader;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.access.Sessions;
import org.springframework.stereotype.Component;

/**
 * Changes passwords: by a link, which is used up, or by the present one. The person's other
 * sessions end. Thread-safe.
 */
@Component
public final class PasswordChange {

  private final People people;
  private final Sessions sessions;
  private final Passwords passwords;
  private final SignIn signIn;

  PasswordChange(Store store, Passwords passwords, SignIn signIn) {
    this.people = store.people();
    this.sessions = store.sessions();
    this.passwords = passwords;
    this.signIn = signIn;
  }

  /** Reads what a password is set with: the members of these names, and no others. */
  public static MemberReader reader(Input input, String... members) {
    return new MemberReader(
        input, "A password that is set", "No password was set.", List.of(members));
  }

  /**
   * Sets the password of the person to whom a link was given.
   *
   * @throws Problem 422 with the rule that the password violates; 410 if the link is good no longer
   */
  public SignIn.Opened byLink(
      MemberReader members, String link, String password, HttpServletRequest request) {
    if (link.isEmpty()) {
      members.error("link", "value-missing", "Link is required: what follows link= in it.");
      members.check();
    }
    // An outdated link is told before anybody thinks of a password.
    if (people.ofLink(link).isEmpty()) {
      throw outdated();
    }
    check(members, password);
    Person person =
        people.setPassword(link, passwords.digest(password)).orElseThrow(PasswordChange::outdated);
    return opened(person, request);
  }

  /**
   * Sets another password in place of a person's own.
   *
   * @throws Problem 422 if the present one is wrong, or with the rule that the new one violates;
   *     403 if the caller is not a person who is kept here
   */
  public SignIn.Opened byCurrent(
      MemberReader members,
      Caller.Known caller,
      String current,
      String password,
      HttpServletRequest request) {
    Person person =
        people
            .find(caller.person())
            .orElseThrow(
                () ->
                    Problem.of(
                        403,
                        "not-allowed",
                        "You may not do this",
                        caller.person().isEmpty()
                            ? "A key has no password. Send the link of a person: {\"link\": \"…\","
                                + " \"password\": \"…\"}."
                            : "No password of yours is kept here: you signed in elsewhere."));
    if (current.isEmpty()) {
      members.error("current", "value-missing", "The present password is required.");
    }
    check(members, password);
    if (!signIn.isPassword(person, current, request)) {
      members.error("current", "wrong-password", "This is not the present password.");
      members.check();
    }
    people.setPassword(person, passwords.digest(password), "");
    return opened(person, request);
  }

  private void check(MemberReader members, String password) {
    passwords
        .violation(password)
        .ifPresent(it -> members.error("password", it.code(), it.detail()));
    members.check();
  }

  private SignIn.Opened opened(Person person, HttpServletRequest request) {
    LoggedCalls.by(request, person.name());
    LoggedCalls.to(request, "people/" + person.name());
    people.noteSignIn(person);
    return new SignIn.Opened(person.name(), sessions.openFor(person, request.getRemoteAddr()));
  }

  private static Problem outdated() {
    return Problem.of(
        410,
        "link-ended",
        "This link has ended",
        "A link to set a password is good for 24 hours and for one use. Ask for another one.");
  }
}
