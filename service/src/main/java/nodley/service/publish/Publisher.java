package nodley.service.publish;

import java.util.function.Predicate;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.service.ask.AskedServices;
import nodley.service.delivery.Outlets;
import nodley.service.source.SourceDatabases;
import nodley.store.Store;
import nodley.store.form.Forms;
import nodley.store.publish.FormPublisher;
import org.springframework.stereotype.Component;

/**
 * Reads form files against what is published and what the settings name, and publishes them: for
 * the wire, for a folder that is watched, and for the demo. Publishing runs on the store's writer:
 * it takes as long as it takes to bring the form's records along, and blocks until that is
 * committed. Thread-safe.
 */
@Component
public final class Publisher {

  private final Store store;
  private final FormRegistry.Outside outside;

  Publisher(Store store, Outlets outlets, AskedServices asked, SourceDatabases sources) {
    this.store = store;
    this.outside =
        new FormRegistry.Outside(
            outlets.forForms(), asked.names(), sources, outlets.sendConfirmations());
  }

  /** What a form file may refer to now. */
  public FormRegistry registry() {
    return store.forms().registry().with(outside);
  }

  /** Publishes a form file, whatever is published now. */
  public FormPublisher.Published publish(
      String text, Format format, FormRegistry registry, FormPublisher.Manner manner)
      throws FormFileException {
    return publish(text, format, registry, manner, _ -> true);
  }

  /**
   * Publishes a form file.
   *
   * @param known whether the text that is published now is the one that its author has seen
   * @throws FormFileException if it has errors
   * @throws nodley.store.common.StoreException.MigrationConflict if kept records do not fit
   * @throws nodley.store.common.StoreException.Republished if it is not
   */
  public FormPublisher.Published publish(
      String text,
      Format format,
      FormRegistry registry,
      FormPublisher.Manner manner,
      Predicate<String> known)
      throws FormFileException {
    Form form = FormFile.read(text, format, registry);
    return store.publisher().publish(form, text, format, manner, known);
  }

  /**
   * Publishes a list or a part.
   *
   * @throws FormFileException if it has errors
   * @throws nodley.store.common.StoreException.Breaks if forms that use it could not be read any
   *     more
   * @throws nodley.store.common.StoreException.MigrationConflict if kept records do not fit
   */
  public FormPublisher.Outcome share(Forms.SharedText text, FormPublisher.Manner manner)
      throws FormFileException {
    return store.publisher().share(text, manner);
  }
}
