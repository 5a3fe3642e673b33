package nodley.core.file;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Tidying;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.pattern.BadPattern;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Wellformed;

/**
 * Reads how texts are tidied before they are judged: {@code tidy}, a list of steps, and {@code
 * keep}, the characters that stay. Only types that a person writes as text can be tidied; others
 * are trimmed alone, and secrets are left as they are.
 */
record TidyReader(Section keys, Errors errors) {

  /** What can be done to a text of a type. */
  static List<String> steps(Type type) {
    return type == Type.URL
        ? List.of("trim", "squeeze", "lower", "upper", "scheme")
        : List.of("trim", "squeeze", "lower", "upper");
  }

  Tidying read(Type type, boolean multiline) {
    if (type == Type.SECRET) {
      return Tidying.NOTHING;
    }
    if (!type.isWritten()) {
      return Tidying.TRIM;
    }
    List<String> known = steps(type);
    Set<String> steps = new LinkedHashSet<>();
    List<Node> written = keys.items("tidy").orElse(null);
    if (written == null) {
      steps.add("trim");
    } else {
      written.forEach(node -> step(node, known, steps));
      // Trimming goes without saying, unless nothing at all is to be tidied.
      if (!written.isEmpty()) {
        steps.add("trim");
      }
    }
    if (steps.contains("lower") && steps.contains("upper")) {
      keys.bad("tidy", "bad-value", "`tidy` cannot have both lower and upper.");
    }
    Tidying.Case letters =
        steps.contains("lower")
            ? Tidying.Case.LOWER
            : steps.contains("upper") ? Tidying.Case.UPPER : Tidying.Case.AS_TYPED;
    return new Tidying(
        steps.contains("trim"),
        steps.contains("squeeze"),
        letters,
        steps.contains("scheme"),
        multiline,
        keep());
  }

  private void step(Node node, List<String> known, Set<String> steps) {
    String step = Section.textOf(node).orElse("");
    if (known.contains(step)) {
      steps.add(step);
      return;
    }
    errors.add(
        node.place(),
        keys.pointer("tidy"),
        "bad-value",
        step.equals("scheme")
            ? "`scheme` is for a url."
            : "`tidy` knows " + String.join(", ", known) + ", not \"" + Wellformed.of(step) + "\".",
        Near.to(step, known));
  }

  private Optional<Tidying.Keep> keep() {
    return keys.text("keep")
        .flatMap(
            characters -> {
              try {
                return Optional.of(
                    new Tidying.Keep(characters, IRegexp.of("[" + characters + "]")));
              } catch (BadPattern e) {
                keys.bad(
                    "keep",
                    "bad-value",
                    "`keep` lists characters and ranges, such as A-Za-z0-9: "
                        + e.getMessage()
                        + ".");
                return Optional.empty();
              }
            });
  }
}
