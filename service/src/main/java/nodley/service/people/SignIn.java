package nodley.service.people;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Fold;
import nodley.service.caller.KeyGuesses;
import nodley.service.http.MemberReader;
import nodley.service.limits.Network;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.Key;
import nodley.store.access.OperatorLog;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.access.Sessions;
import org.springframework.stereotype.Component;

/**
 * Signs people in by name and password or with a key, and opens their sessions. Guesses are slowed
 * down per name and per network, and an answer never says which half was wrong. Thread-safe.
 */
@Component
public final class SignIn {

  private final People people;
  private final Sessions sessions;
  private final KeyGuesses guesses;
  private final Passwords passwords;
  private final SignInPace pace;
  private final OperatorLog log;

  SignIn(Store store, KeyGuesses guesses, Passwords passwords, Clock clock) {
    this.people = store.people();
    this.sessions = store.sessions();
    this.guesses = guesses;
    this.passwords = passwords;
    this.pace = new SignInPace(clock);
    this.log = store.operatorLog();
  }

  /** A session that was opened: whose, and its secret, which goes into the cookie. */
  public record Opened(String caller, String secret) {}

  /**
   * Opens a session for what was sent: {@code key}, or {@code name} and {@code password}.
   *
   * @param sent the members that were sent
   * @throws Problem 401 if it is wrong or missing; 429 if too many wrong ones came; 503 if too many
   *     passwords are being compared
   */
  public Opened open(Map<String, String> sent, HttpServletRequest request) {
    String key = sent.getOrDefault("key", "").strip();
    String name = sent.getOrDefault("name", "").strip();
    String password = sent.getOrDefault("password", "");
    if (key.isEmpty() && (name.isEmpty() || password.isEmpty())) {
      throw Problem.notSignedIn(
          name.isEmpty() && password.isEmpty()
              ? "Send {\"name\": \"…\", \"password\": \"…\"}, or {\"key\": \"…\"}."
              : name.isEmpty() ? "Name is required." : "Password is required.");
    }
    return key.isEmpty() ? byPassword(name, password, request) : withKey(key, request);
  }

  private Opened withKey(String key, HttpServletRequest request) {
    Key found =
        guesses
            .find(key, request)
            .orElseThrow(() -> Problem.notSignedIn("This key is not known here."));
    LoggedCalls.by(request, found.name());
    return new Opened(found.name(), sessions.openWithKey(found.name(), request.getRemoteAddr()));
  }

  private Opened byPassword(String name, String password, HttpServletRequest request) {
    String lookedFor = name.substring(0, Math.min(name.length(), MemberReader.LONGEST_EMAIL + 1));
    Optional<People.Login> login = people.login(lookedFor);
    if (!matches(login, Fold.of(lookedFor), password, request)) {
      throw Problem.notSignedIn("This name or this password is wrong.");
    }
    Person person = login.orElseThrow().person();
    LoggedCalls.by(request, person.name());
    people.noteSignIn(person);
    return new Opened(person.name(), sessions.openFor(person, request.getRemoteAddr()));
  }

  /**
   * Returns whether this is a person's password.
   *
   * @throws Problem 429 if too many wrong ones came; 503 if too many are being compared
   */
  boolean isPassword(Person person, String password, HttpServletRequest request) {
    return matches(people.login(person.name()), person.name(), password, request);
  }

  private boolean matches(
      Optional<People.Login> login, String name, String password, HttpServletRequest request) {
    String network = Network.of(request.getRemoteAddr());
    String counted = login.map(it -> it.person().id()).orElse(name);
    boolean last = pace.begin(counted, network);
    boolean matches = passwords.matches(password, login, people);
    if (matches) {
      pace.succeeded(counted, network);
    } else if (last) {
      String subject = login.map(it -> "people/" + it.person().name()).orElse("");
      log.addLater("", "wrong-passwords", subject, network);
    }
    return matches;
  }
}
