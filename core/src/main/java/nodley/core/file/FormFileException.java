package nodley.core.file;

import java.util.List;
import java.util.stream.Collectors;

/**
 * A form file that has errors: all of them, in the order in which they were found, and at least
 * one. Nothing of such a file is published.
 */
public final class FormFileException extends Exception {

  private static final long serialVersionUID = 1;

  private final transient List<FormFileError> errors;

  FormFileException(List<FormFileError> errors) {
    super(errors.stream().map(FormFileError::toString).collect(Collectors.joining("\n")));
    this.errors = List.copyOf(errors);
  }

  /** In the order in which they stand in the file; never empty. */
  public List<FormFileError> errors() {
    return errors;
  }
}
