package nodley.core.form;

import java.util.Locale;

/** Whether a submission adds a record or edits one. */
public enum Mode {
  ADD,
  EDIT;

  /** Returns the word for it in attempts and descriptions. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
