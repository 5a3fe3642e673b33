package nodley.core.form;

import java.util.Locale;

/** What a person handles on the page. */
public enum Control {
  TEXT,
  TEXTAREA,
  EMAIL,
  NUMBER,
  CHECKBOX,
  DATE,
  RADIO,
  SELECT;

  /** The name in form files and descriptions. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
