package nodley.core.form;

import nodley.core.value.Values;

/**
 * One option of a choice.
 *
 * @param offered false if it is there only for records that have it already
 * @param marks what {@code where} can ask of the option
 */
public record Choice(String value, String label, boolean offered, Values marks) {

  /** An option that is offered, without marks. */
  public Choice(String value, String label) {
    this(value, label, true, Values.NONE);
  }
}
