package nodley.service.http;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Access;
import nodley.core.input.Input;
import nodley.core.name.Synonyms;
import nodley.core.value.Addresses;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;

/**
 * Reads the members of a body that is no submission to a form, and collects what is wrong with
 * them, so that all of it is told at once. For one request and one thread.
 */
public final class MemberReader {

  /** Characters of an address (RFC 5321, section 4.5.3.1.3). */
  public static final int LONGEST_EMAIL = 254;

  private static final int MAX_ROLES = 20;

  private final Input input;
  private final String subject;
  private final String outcome;

  /** What the names of members follow in a pointer. */
  private final String base;

  private final List<Map<String, String>> errors;

  /**
   * Begins with the names of the members.
   *
   * @param subject what is sent, such as "A key"; begins a sentence
   * @param outcome said where it is refused, such as "No key was made."
   * @param members the names that it may have; each other one is an error
   */
  public MemberReader(Input input, String subject, String outcome, List<String> members) {
    this(input, subject, outcome, "#/", members, new ArrayList<>());
  }

  private MemberReader(
      Input input,
      String subject,
      String outcome,
      String base,
      List<String> members,
      List<Map<String, String>> errors) {
    this.input = input;
    this.subject = subject;
    this.outcome = outcome;
    this.base = base;
    this.errors = errors;
    for (String member : input.members().keySet()) {
      if (!members.contains(member)) {
        error(
            Wellformed.of(member),
            "unknown-field",
            subject + " has no \"" + Wellformed.of(member) + "\"." + near(member, members));
      }
    }
  }

  /** Returns a question about a word that is near to one; empty if none is. */
  public static String near(String word, List<String> known) {
    return Synonyms.by(word, known).map(it -> " Did you mean \"" + it + "\"?").orElse("");
  }

  /**
   * Reads a member that has members of its own; what is wrong with them is told with the rest.
   * Where it is missing or wrong, it has none.
   *
   * @param members the names that they may have
   */
  public MemberReader inside(String member, String subject, List<String> members) {
    Raw raw = input.get(member).orElse(new Raw.Null());
    if (raw instanceof Raw.Many || !(raw instanceof Raw.Members) && !raw.shown().isEmpty()) {
      error(member, "bad-input", "\"" + member + "\" is an object.");
    }
    Map<String, Raw> inside = raw instanceof Raw.Members(Map<String, Raw> all) ? all : Map.of();
    return new MemberReader(
        new Input(inside, input.encoding()),
        subject,
        outcome,
        base + member + "/",
        members,
        errors);
  }

  /** True if a member was sent. */
  public boolean has(String member) {
    return input.get(member).isPresent();
  }

  /** Returns a text without blanks around it; empty if it is missing or wrong. */
  public String text(String member) {
    return secret(member).strip();
  }

  /** Returns a text as it was sent; empty if it is missing or wrong. */
  public String secret(String member) {
    Raw raw = input.get(member).orElse(new Raw.Null());
    if (raw instanceof Raw.Many || raw instanceof Raw.Members) {
      error(member, "bad-input", "\"" + member + "\" is a text.");
      return "";
    }
    return raw.shown();
  }

  /** Returns one word or a list of them, each once; empty if it is missing or wrong. */
  public Set<String> words(String member, int most) {
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
          subject + " has up to " + most + " " + member + ", not " + words.size() + ".");
      return Set.of();
    }
    return words;
  }

  /** Returns the member {@code roles}. */
  public Set<String> roles() {
    Set<String> roles = words("roles", MAX_ROLES);
    for (String role : roles) {
      if (Access.Who.RESERVED.contains(role) || !Access.ROLE.matcher(role).matches()) {
        error(
            "roles",
            "pattern-mismatch",
            "\""
                + Wellformed.of(role)
                + "\" is no role: one is a small letter and then small letters, digits and hyphens,"
                + " such as clerk, and none of anyone, signed-in and owner.");
      }
    }
    return roles;
  }

  /**
   * Returns the member {@code forms}: names of forms, of which there are some.
   *
   * @param published the names that there are
   */
  public Set<String> forms(List<String> published, int most) {
    Set<String> forms = words("forms", most);
    for (String form : forms) {
      if (!published.contains(form)) {
        error(
            "forms",
            "not-an-option",
            "There is no form \"" + Wellformed.of(form) + "\"." + near(form, published));
      }
    }
    return forms;
  }

  /** Returns the member {@code email}: an address, or empty. */
  public String email() {
    String email = text("email");
    if (email.length() > LONGEST_EMAIL || !email.isEmpty() && !Addresses.isEmail(email)) {
      error("email", "type-mismatch", "Email is an address such as ann@harbour.example.");
    }
    return email;
  }

  /** Notes an error at a member. */
  public void error(String member, String code, String detail) {
    Map<String, String> error = new LinkedHashMap<>();
    error.put("pointer", base + member);
    error.put("code", code);
    error.put("detail", detail);
    errors.add(error);
  }

  /** True if a member has an error already. */
  public boolean isWrong(String member) {
    return code(member).isPresent();
  }

  /** Returns the code of a member's error; empty if it has none. */
  public Optional<String> code(String member) {
    return errors.stream()
        .filter(it -> it.get("pointer").equals(base + member))
        .map(it -> it.get("code"))
        .findFirst();
  }

  /**
   * Ends the reading.
   *
   * @throws Problem 422 if there are errors
   */
  public void check() {
    if (!errors.isEmpty()) {
      throw refused();
    }
  }

  /** Returns the problem with the errors so far. */
  public Problem refused() {
    return Problem.of(422, "refused", "The submission was refused", outcome).with("errors", errors);
  }
}
