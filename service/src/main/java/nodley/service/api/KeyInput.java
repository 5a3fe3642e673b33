package nodley.service.api;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import nodley.core.form.Access;
import nodley.core.input.Input;
import nodley.core.name.Synonyms;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;

/** What was sent to make a key with: all that is wrong with it is told at once. */
final class KeyInput {

  private static final List<String> MEMBERS = List.of("name", "roles", "forms", "until");
  private static final Pattern NAME = Pattern.compile("[A-Za-z0-9][A-Za-z0-9._-]{0,59}");
  private static final Pattern DAY = Pattern.compile("[0-9]{4}-[0-9]{2}-[0-9]{2}");
  private static final int MAX_ROLES = 20;
  private static final int MAX_FORMS = 200;

  private final Input input;
  private final List<Map<String, String>> errors = new ArrayList<>();
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
    this.input = input;
    for (String member : input.members().keySet()) {
      if (!MEMBERS.contains(member)) {
        error(
            Wellformed.of(member),
            "unknown-field",
            "A key has no \"" + Wellformed.of(member) + "\"." + near(member, MEMBERS));
      }
    }
    this.name = text("name");
    if (name.isEmpty() && errors.stream().noneMatch(it -> it.get("pointer").equals("#/name"))) {
      error("name", "value-missing", "Name is required.");
    } else if (!name.isEmpty() && !NAME.matcher(name).matches()) {
      error(
          "name",
          "pattern-mismatch",
          "Name is up to 60 letters, digits, hyphens, dots and underscores, such as night-export.");
    }
    this.roles = words("roles", MAX_ROLES);
    for (String role : roles) {
      boolean isReserved = List.of("anyone", "signed-in", "owner").contains(role);
      if (isReserved || !Access.ROLE.matcher(role).matches()) {
        error(
            "roles",
            "pattern-mismatch",
            "\""
                + Wellformed.of(role)
                + "\" is no role: one is a small letter and then small letters, digits and hyphens,"
                + " such as clerk, and none of anyone, signed-in and owner.");
      }
    }
    this.forms = words("forms", MAX_FORMS);
    for (String form : forms) {
      if (!published.contains(form)) {
        error(
            "forms",
            "not-an-option",
            "There is no form \"" + Wellformed.of(form) + "\"." + near(form, published));
      }
    }
    this.until = until(today);
    if (!errors.isEmpty()) {
      throw refused();
    }
  }

  private Optional<LocalDate> until(LocalDate today) {
    String text = text("until");
    if (text.isEmpty()) {
      return Optional.empty();
    }
    Optional<LocalDate> day = day(text);
    if (day.isEmpty()) {
      error("until", "bad-input", "Until is a date such as 2027-06-30.");
    } else if (day.get().isBefore(today)) {
      error("until", "range-underflow", "Until must be " + today + " or later.");
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

  private static String near(String word, List<String> known) {
    return Synonyms.by(word, known).map(it -> " Did you mean \"" + it + "\"?").orElse("");
  }

  private String text(String member) {
    Raw raw = input.get(member).orElse(new Raw.Null());
    if (raw instanceof Raw.Many || raw instanceof Raw.Members) {
      error(member, "bad-input", "\"" + member + "\" is a text.");
      return "";
    }
    return raw.shown().strip();
  }

  private Set<String> words(String member, int most) {
    Raw raw = input.get(member).orElse(new Raw.Null());
    Set<String> words = new LinkedHashSet<>();
    for (Raw item : raw instanceof Raw.Many(List<Raw> many) ? many : List.of(raw)) {
      if (item instanceof Raw.Many || item instanceof Raw.Members) {
        error(member, "bad-input", "\"" + member + "\" is a list of names.");
        return Set.of();
      }
      words.add(item.shown().strip());
    }
    words.remove("");
    if (words.size() > most) {
      error(
          member,
          "too-many",
          "A key has up to " + most + " " + member + ", not " + words.size() + ".");
      return Set.of();
    }
    return words;
  }

  private void error(String member, String code, String detail) {
    Map<String, String> error = new LinkedHashMap<>();
    error.put("pointer", "#/" + member);
    error.put("code", code);
    error.put("detail", detail);
    errors.add(error);
  }

  private Problem refused() {
    return Problem.of(422, "refused", "The submission was refused", "No key was made.")
        .with("errors", errors);
  }

  /** The problem that there is a key of this name already. */
  Problem taken() {
    error("name", "taken", "There is a key \"" + name + "\" already.");
    return refused();
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
