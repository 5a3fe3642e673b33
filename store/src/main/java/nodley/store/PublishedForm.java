package nodley.store;

import nodley.core.file.Format;
import nodley.core.form.Form;

/**
 * The current text of a form, and what it means now.
 *
 * @param revision counts up from 1 with each publish that changes the text
 * @param edition counts up whenever its meaning changes: with a revision, or with a list or part
 *     that it uses
 */
public record PublishedForm(Form form, int revision, int edition, String text, Format format) {
  public String name() {
    return form.name();
  }
}
