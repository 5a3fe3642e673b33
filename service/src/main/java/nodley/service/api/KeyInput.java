package nodley.service.api;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import nodley.core.input.Input;
import nodley.service.http.MemberReader;
import nodley.service.problem.Problem;

/** What was sent to make a key with: all that is wrong with it is told at once. */
final class KeyInput {

  private static final Pattern NAME = Pattern.compile("[A-Za-z0-9][A-Za-z0-9._-]{0,59}");
  private static final Pattern DAY = Pattern.compile("[0-9]{4}-[0-9]{2}-[0-9]{2}");
  private static final int MAX_FORMS = 200;

  private final MemberReader members;
  private final String name;
  private final Set<String> roles;
  private final Set<String> forms;
  private final Optional<LocalDate> until;

  /**
   * Reads the members of a body.
   *
   * @param published the names of the forms that there are
   * @throws Problem 422 with its errors
   */
  KeyInput(Input input, List<String> published, LocalDate today) {
    this.members =
        new MemberReader(
            input, "A key", "No key was made.", List.of("name", "roles", "forms", "until"));
    this.name = members.text("name");
    if (name.isEmpty() && !members.isWrong("name")) {
      members.error("name", "value-missing", "Name is required.");
    } else if (!name.isEmpty() && !NAME.matcher(name).matches()) {
      members.error(
          "name",
          "pattern-mismatch",
          "Name is up to 60 letters, digits, hyphens, dots and underscores, such as night-export.");
    }
    this.roles = members.roles();
    this.forms = members.forms(published, MAX_FORMS);
    this.until = until(today);
    members.check();
  }

  private Optional<LocalDate> until(LocalDate today) {
    String text = members.text("until");
    if (text.isEmpty()) {
      return Optional.empty();
    }
    Optional<LocalDate> day = day(text);
    if (day.isEmpty()) {
      members.error("until", "bad-input", "Until is a date such as 2027-06-30.");
    } else if (day.get().isBefore(today)) {
      members.error("until", "range-underflow", "Until must be " + today + " or later.");
    }
    return day;
  }

  private static Optional<LocalDate> day(String text) {
    try {
      return DAY.matcher(text).matches() ? Optional.of(LocalDate.parse(text)) : Optional.empty();
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  /** The problem that there is a key or a person of this name already. */
  Problem taken() {
    members.error("name", "taken", "There is a key or a person \"" + name + "\" already.");
    return members.refused();
  }

  String name() {
    return name;
  }

  Set<String> roles() {
    return roles;
  }

  Set<String> forms() {
    return forms;
  }

  Optional<LocalDate> until() {
    return until;
  }
}
