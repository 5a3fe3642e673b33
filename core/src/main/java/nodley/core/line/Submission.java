package nodley.core.line;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/**
 * The way of a submission. There is no other way in: a live check is the same line, cut before
 * <em>keep</em>.
 */
public final class Submission {

  private Submission() {}

  /** Judges, asks and keeps. */
  public static <R> Answer<R> send(
      Form form, Input input, Context context, Facts facts, Keep<R> keep) {
    return new Course(form, context, facts, Optional.empty())
        .read(input)
        .tidy()
        .judge()
        .ask(false)
        .keep(keep)
        .answer();
  }

  /**
   * What kept values claim for themselves alone.
   *
   * @param context of an edit of the record
   */
  public static List<Claim> claims(Form form, Values kept, Context context) {
    Input input = new Input(Raw.of(kept).members(), Input.Door.JSON);
    return new Course(form, context, Facts.NONE, Optional.empty()).read(input).tidy().claims();
  }

  /** Judges and asks; nothing is kept. */
  public static Verdict check(Form form, Input input, Context context, Facts facts) {
    return check(form, input, context, facts, Optional.empty());
  }

  /**
   * Judges and asks about some fields; the verdict speaks only of these.
   *
   * @param only dotted paths of fields of the form, such as {@code contact.email}; empty for all
   */
  public static Verdict check(
      Form form, Input input, Context context, Facts facts, Optional<Set<String>> only) {
    return new Course(form, context, facts, only).read(input).tidy().judge().ask(true).verdict();
  }
}
