package nodley.service.people;

import java.text.Normalizer;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import nodley.core.input.Input;
import nodley.service.http.MemberReader;
import nodley.service.problem.Problem;
import nodley.store.access.People;

/** What was sent to add a person, or to change one: all that is wrong with it is told at once. */
public final class PersonInput {

  private static final Pattern NAME =
      Pattern.compile("[\\p{L}\\p{N}](?:[\\p{L}\\p{M}\\p{N}._' -]{0,58}[\\p{L}\\p{M}\\p{N}.])?");

  private final MemberReader members;
  private final String name;
  private final String email;
  private final Set<String> roles;

  private PersonInput(MemberReader members, boolean isNew) {
    this.members = members;
    this.name = isNew ? name(members) : "";
    this.email = members.email();
    this.roles = members.roles();
    members.check();
  }

  /**
   * Reads what a person is added with: {@code name}, {@code email}, {@code roles}.
   *
   * @throws Problem 422 with its errors
   */
  public static PersonInput added(Input input) {
    return new PersonInput(
        new MemberReader(input, "A person", "Nobody was added.", List.of("name", "email", "roles")),
        true);
  }

  /**
   * Reads what a person has from now on: {@code email}, {@code roles}; left out, none.
   *
   * @throws Problem 422 with its errors
   */
  public static PersonInput changed(Input input) {
    return new PersonInput(
        new MemberReader(
            input, "A change of a person", "Nothing was changed.", List.of("email", "roles")),
        false);
  }

  private static String name(MemberReader members) {
    String name =
        Normalizer.normalize(members.text("name"), Normalizer.Form.NFC).replaceAll(" +", " ");
    if (name.isEmpty()) {
      if (!members.isWrong("name")) {
        members.error("name", "value-missing", "Name is required.");
      }
    } else if (!NAME.matcher(name).matches()) {
      members.error(
          "name",
          "pattern-mismatch",
          "Name is up to 60 letters and digits, with spaces, dots, hyphens, apostrophes and"
              + " underscores between them, such as ann or Ann Müller.");
    }
    return name;
  }

  /** The problem that something of it is somebody else's. */
  public Problem taken(Set<People.Unique> taken) {
    for (People.Unique each : taken) {
      switch (each) {
        case NAME ->
            members.error(
                "name",
                "taken",
                "The name "
                    + name
                    + " is another person's already; upper and lower case are the same.");
        case NAME_OF_KEY ->
            members.error("name", "taken", "There is a key \"" + name + "\" already.");
        case EMAIL ->
            members.error("email", "taken", "Somebody has the address " + email + " already.");
      }
    }
    return members.refused();
  }

  /** Returns the name, in NFC, without superfluous blanks; empty for a change. */
  public String name() {
    return name;
  }

  /** Returns the address; empty for none. */
  public String email() {
    return email;
  }

  /** Returns the names of roles. */
  public Set<String> roles() {
    return roles;
  }
}
