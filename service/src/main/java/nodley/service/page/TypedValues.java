package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.input.FormInput;
import nodley.core.input.InputLimits;
import nodley.core.input.Unreadable;
import nodley.service.caller.Caller;
import nodley.service.caller.RequestedLanguages;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import org.springframework.stereotype.Component;

/**
 * What was typed on a page without script whose form could not be processed: its sender has to sign
 * in first, or to wait. The page that says so has it in hidden inputs, and a button that leads back
 * to the form. What was typed in fields for secrets is left out. Thread-safe.
 */
@Component
class TypedValues {

  /** More is not sent back; such a page is left to the browser's history. */
  private static final int MOST_BYTES = 256 << 10;

  private static final Pattern FORM_PAGE =
      Pattern.compile("/forms/(?<form>[^/]+)/(?:new|edit|[^/]+/edit)");
  private static final Pattern LAST_NAME = Pattern.compile("(?<name>[^.\\[\\]]+)(?:\\[[0-9]*])*$");

  /** Buttons say what was to happen with the page, and are not pressed again. */
  private static final Set<String> BUTTONS =
      Set.of(ButtonPress.MORE, ButtonPress.LESS, ButtonPress.UP, ButtonPress.AGAIN);

  private final Submissions submissions;
  private final Bodies bodies;

  TypedValues(Submissions submissions, Bodies bodies) {
    this.submissions = submissions;
    this.bodies = bodies;
  }

  /** A hidden input. */
  record Pair(String name, String value) {}

  /**
   * What was typed.
   *
   * @param action where the page's form leads
   */
  record Typed(String action, List<Pair> pairs) {}

  /**
   * Returns what a request sent from the page of a form; empty if it did not, or cannot be read.
   */
  Optional<Typed> of(HttpServletRequest request) {
    Matcher page = FORM_PAGE.matcher(request.getRequestURI());
    if (!request.getMethod().equals("POST") || !page.matches()) {
      return Optional.empty();
    }
    try {
      Set<String> secrets = secrets(page.group("form"));
      Optional<Body> body = bodies.readOnce(request);
      if (body.isEmpty() || body.get().bytes().length > MOST_BYTES) {
        return Optional.empty();
      }
      List<Pair> pairs = new ArrayList<>();
      FormInput.pairs(body.get().bytes(), InputLimits.DEFAULT)
          .forEach((name, values) -> values.forEach(it -> pairs.add(new Pair(name, it))));
      pairs.removeIf(it -> BUTTONS.contains(it.name()) || secrets.contains(lastName(it.name())));
      return Optional.of(
          new Typed(request.getRequestURI() + RequestedLanguages.query(request), pairs));
    } catch (Problem | Unreadable | IOException e) {
      return Optional.empty();
    }
  }

  private Set<String> secrets(String form) {
    Form published = submissions.form(form, Caller.current()).form();
    return published.everyField().stream()
        .map(Form.Placed::field)
        .filter(Field::isSecret)
        .map(Field::name)
        .collect(Collectors.toSet());
  }

  /** The name of the field that an input is of: {@code crew[0].pin} is of {@code pin}. */
  private static String lastName(String name) {
    Matcher last = LAST_NAME.matcher(name);
    return last.find() ? last.group("name") : name;
  }
}
