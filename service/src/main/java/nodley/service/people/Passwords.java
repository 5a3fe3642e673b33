package nodley.service.people;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.text.Normalizer;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.value.Fold;
import nodley.service.submission.Secrets;
import nodley.store.access.People;
import nodley.store.access.Person;
import org.springframework.stereotype.Component;

/**
 * The rules for passwords, and their digests (Argon2id). A password is compared in NFC, so that it
 * is the same from every keyboard; nothing else about it is changed. Thread-safe.
 */
@Component
public final class Passwords {

  /** How many characters a password has at least. */
  public static final int SHORTEST = 12;

  /** How many characters a password has at most. */
  public static final int LONGEST = 200;

  private final Secrets secrets;

  Passwords(Secrets secrets) {
    this.secrets = secrets;
  }

  /** The passwords that are tried first, folded; read when the first password is set. */
  private static final class Common {
    static final Set<String> PASSWORDS = common();
  }

  private static Set<String> common() {
    try (BufferedReader lines =
        new BufferedReader(
            new InputStreamReader(
                Objects.requireNonNull(
                    Passwords.class.getResourceAsStream("/nodley/service/common-passwords.txt")),
                StandardCharsets.UTF_8))) {
      return lines
          .lines()
          .filter(it -> !it.startsWith("#"))
          .map(Fold::of)
          .collect(Collectors.toUnmodifiableSet());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** A rule that a password violates. */
  public record Violation(String code, String detail) {}

  /** Returns the rule that a new password violates; empty if it may be used. */
  public Optional<Violation> violation(String password) {
    int length = password.codePointCount(0, password.length());
    if (password.isEmpty()) {
      return Optional.of(new Violation("value-missing", "Password is required."));
    }
    if (length < SHORTEST) {
      return Optional.of(
          new Violation(
              "too-short",
              "A password has " + SHORTEST + " characters or more; this one has " + length + "."));
    }
    if (length > LONGEST) {
      return Optional.of(
          new Violation("too-long", "A password has up to " + LONGEST + " characters."));
    }
    String folded = Fold.of(password.strip());
    if (Common.PASSWORDS.contains(folded) || folded.codePoints().distinct().count() < 3) {
      return Optional.of(
          new Violation(
              "too-common",
              "This is among the passwords that are tried first. Take several words together."));
    }
    return Optional.empty();
  }

  /**
   * Makes the digest of a password.
   *
   * @throws nodley.service.problem.Problem 503 if too many are being made at once
   */
  public String digest(String password) {
    return secrets.digest(normalised(password));
  }

  /**
   * Returns whether a password is the one of a login. Takes as long for somebody who is not there,
   * or has no password. Renews a digest that an earlier version made.
   *
   * @throws nodley.service.problem.Problem 503 if too many are being compared at once
   */
  boolean matches(String password, Optional<People.Login> login, People people) {
    String digest =
        login.map(People.Login::password).filter(it -> !it.isEmpty()).orElse(Secrets.OF_NO_SECRET);
    if (password.length() > LONGEST * 2) {
      secrets.compare("", digest);
      return false;
    }
    Secrets.Compared compared = secrets.compare(normalised(password), digest);
    if (!compared.same() || digest.equals(Secrets.OF_NO_SECRET)) {
      return false;
    }
    if (compared.outdated()) {
      Person person = login.orElseThrow().person();
      people.renewDigest(person, digest, digest(password));
    }
    return true;
  }

  private static String normalised(String password) {
    return Normalizer.normalize(password, Normalizer.Form.NFC);
  }
}
