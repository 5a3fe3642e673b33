package nodley.core.form;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** When a page shows errors of a field and checks it with the service. */
public enum Checking {
  /** As the person leaves the field. */
  LEAVING,
  /** While the person types, after a pause. */
  TYPING,
  /** As the form is sent. */
  SUBMIT;

  /** The name in form files and descriptions. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Returns the one that a word of a form file means; empty for another word. */
  public static Optional<Checking> of(String word) {
    return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
  }
}
