package nodley.store.schema;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.lang.ref.WeakReference;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.form.Form;
import org.junit.jupiter.api.Test;

class TableTest {

  private static WeakReference<Form> used() throws FormFileException {
    Form form =
        FormFile.read(
            "form: trip\nfields: { name: { type: text, unique: true },"
                + " crew: { type: rows, fields: { name: { type: text } } } }");
    assertThat(Table.of(form)).hasSize(2);
    return new WeakReference<>(form);
  }

  /** Each preview makes a form; what is worked out for it must not keep it for ever. */
  @Test
  void aFormThatNobodyHasAnyMoreIsForgottenWithItsTables() throws FormFileException {
    WeakReference<Form> form = used();
    await()
        .until(
            () -> {
              System.gc();
              return form.refersTo(null);
            });
  }
}
