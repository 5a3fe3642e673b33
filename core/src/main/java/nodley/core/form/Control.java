package nodley.core.form;

import java.util.Locale;

/** The control of a field on a page. */
public enum Control {
  TEXT,
  TEXTAREA,
  EMAIL,
  URL,
  PHONE,
  SECRET,
  NUMBER,
  SLIDER,
  CHECKBOX,
  SWITCH,
  DATE,
  TIME,
  DATETIME,
  RADIO,
  SELECT,
  SEARCH,
  CHECKBOXES,
  FILE,
  GROUP,
  ROWS,

  /** Nobody handles it: the service sets the value, and no page has it or is sent it. */
  NONE;

  /** The name in form files and descriptions. */
  public String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
