package nodley.service.api;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import nodley.core.input.Input;
import nodley.core.value.OneLine;
import nodley.service.caller.Caller;
import nodley.service.caller.Passes;
import nodley.service.http.MemberReader;
import nodley.store.access.Roles;

/** What was sent to make a pass with: all that is wrong with it is told at once. */
final class PassInput {

  private static final int MAX_FORMS = 50;
  private static final int LONGEST = 100;
  private static final long LONGEST_SECONDS = 3_600;
  private static final long SECONDS = 900;
  private static final Pattern NUMBER = Pattern.compile("[0-9]{1,9}");

  private final Passes.Holder holder;
  private final Duration time;

  /**
   * Reads the members of a body.
   *
   * @param key whose holder sends it
   * @param published the names of the forms that there are
   * @throws nodley.service.problem.Problem 422 with its errors
   */
  PassInput(Input input, Caller.Known key, List<String> published) {
    MemberReader members =
        new MemberReader(
            input, "A pass", "No pass was made.", List.of("person", "forms", "seconds"));
    MemberReader person =
        members.inside("person", "A person", List.of("id", "name", "email", "roles"));
    String id = line(person, "id", "Id");
    if (id.isEmpty() && !person.isWrong("id") && !members.isWrong("person")) {
      person.error("id", "value-missing", "Id is required: what your site calls the person.");
    }
    String name = line(person, "name", "Name");
    String email = person.email();
    Set<String> roles = person.roles();
    for (String role : roles) {
      if (Roles.BUILT_IN.contains(role)) {
        person.error("roles", "not-an-option", "A pass gives nobody the role " + role + ".");
      }
    }
    Set<String> forms = forms(members, key, published);
    this.time = Duration.ofSeconds(seconds(members));
    members.check();
    this.holder = new Passes.Holder(key.name(), id, name, email, roles, forms);
  }

  private static Set<String> forms(MemberReader members, Caller.Known key, List<String> published) {
    Set<String> forms = members.forms(published, MAX_FORMS);
    if (forms.isEmpty() && !members.isWrong("forms")) {
      members.error("forms", "value-missing", "Forms are required: those that the pass is for.");
    }
    for (String form : forms) {
      if (published.contains(form) && !key.isFor(form)) {
        members.error("forms", "not-an-option", "The key is not for the form \"" + form + "\".");
      }
    }
    return forms;
  }

  private static long seconds(MemberReader members) {
    String text = members.text("seconds");
    if (text.isEmpty()) {
      return SECONDS;
    }
    long seconds = NUMBER.matcher(text).matches() ? Long.parseLong(text) : 0;
    if (seconds < 1 || seconds > LONGEST_SECONDS) {
      members.error(
          "seconds",
          "range-overflow",
          "Seconds are a whole number from 1 to " + LONGEST_SECONDS + ".");
    }
    return seconds;
  }

  /** One line of text; what would break or hide in a list of records is refused. */
  private static String line(MemberReader members, String member, String label) {
    String text = members.text(member);
    if (!OneLine.isPlain(text)) {
      members.error(member, "pattern-mismatch", label + " is one line without control characters.");
    } else if (!OneLine.isUpTo(LONGEST, text)) {
      members.error(member, "too-long", label + " has up to " + LONGEST + " characters.");
    }
    return text;
  }

  Passes.Holder holder() {
    return holder;
  }

  Duration time() {
    return time;
  }
}
