package nodley.store;

import nodley.core.file.Format;
import nodley.core.form.Form;

/**
 * The current text of a form.
 *
 * @param revision counts up from 1 with each publish that changes the text
 */
public record PublishedForm(Form form, int revision, String text, Format format) {
  public String name() {
    return form.name();
  }
}
