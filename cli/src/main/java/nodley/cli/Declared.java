package nodley.cli;

import java.nio.file.Path;
import java.util.List;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Surroundings;
import nodley.core.form.Form;

/** A form file on this machine, and the form that it declares. */
record Declared(FormText file, Form form) {

  /**
   * Reads a form file for what it declares; what it refers to on the service is the service's to
   * know.
   *
   * @param near files whose folders may have the lists and parts that it uses
   * @throws FormFileException if it has errors
   */
  static Declared read(FormText file, List<Path> near) throws FormFileException {
    String text = FormFile.decode(file.bytes());
    Surroundings surroundings = Surroundings.alone(SharedFiles.near(near));
    return new Declared(file, FormFile.read(text, file.format(), surroundings));
  }
}
