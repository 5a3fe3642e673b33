package nodley.cli;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.form.Form;

/**
 * A form file on this machine.
 *
 * @param name the name of the form
 * @param refersTo the names of other forms, as far as this machine knows
 */
record LocalForm(FormText file, String name, List<String> refersTo) {

  /**
   * Reads a form file for what it declares. Names that nothing here stands for may be of lists,
   * parts or themes that the service has: they are the service's to know.
   *
   * @param near files whose folders may have the lists and parts that it uses
   * @throws FormFileException if it has errors of any other kind
   */
  static LocalForm read(FormText file, List<Path> near) throws FormFileException {
    String text = FormFile.decode(file.bytes());
    try {
      Form form = FormFile.read(text, file.format(), FormRegistry.alone(SharedFiles.near(near)));
      return new LocalForm(file, form.name(), form.refersTo());
    } catch (FormFileException e) {
      Optional<String> name = FormFile.name(text, file.format());
      boolean elsewhere = e.errors().stream().allMatch(it -> it.code().equals("unknown-name"));
      if (elsewhere && name.isPresent()) {
        return new LocalForm(file, name.get(), List.of());
      }
      throw e;
    }
  }
}
