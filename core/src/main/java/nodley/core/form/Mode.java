package nodley.core.form;

import java.util.Locale;

/** Adding and editing are one form, in one of two modes. */
public enum Mode {
  ADD,
  EDIT;

  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
