package nodley.core.file;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import nodley.core.form.Form;

/**
 * Reads form files. Stateless; returns a {@link nodley.core.form.Form}, or throws all errors of the
 * file.
 */
public final class FormFile {

  /** A form file may have this many bytes. */
  public static final int MAX_BYTES = 16 << 20;

  private FormFile() {}

  /** Reads YAML alone, without knowing other forms. */
  public static Form read(String text) throws FormFileException {
    return read(text, Format.YAML, FormRegistry.UNKNOWN);
  }

  /** The name that a text declares its form by; nothing if it cannot be read so far. */
  public static Optional<String> name(String text, Format format) {
    var errors = new Errors();
    try {
      Node tree = format == Format.JSON ? JsonTree.read(text) : YamlTree.read(text, errors);
      return Section.of(tree, "#", "A form file", errors).flatMap(file -> file.text("form"));
    } catch (Unparsable e) {
      return Optional.empty();
    }
  }

  /**
   * Reads a form file.
   *
   * @throws FormFileException with all that is wrong, each with line, column, code and, where a
   *     near name exists, a suggestion
   */
  public static Form read(String text, Format format, FormRegistry registry)
      throws FormFileException {
    var errors = new Errors();
    try {
      Node tree = format == Format.JSON ? JsonTree.read(text) : YamlTree.read(text, errors);
      return new FormReader(errors, registry).read(tree);
    } catch (Unparsable e) {
      errors.add(e.place(), "#", "unreadable", e.getMessage());
      throw errors.thrown();
    }
  }

  /**
   * The text of a file's bytes.
   *
   * @throws FormFileException if they are not UTF-8, or too many
   */
  public static String decode(byte[] bytes) throws FormFileException {
    var errors = new Errors();
    var start = new Place(1, 1);
    if (bytes.length > MAX_BYTES) {
      errors.add(start, "#", "unreadable", "The file is larger than 16 MiB.");
      throw errors.thrown();
    }
    try {
      return StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
    } catch (CharacterCodingException e) {
      errors.add(start, "#", "unreadable", "The file is not UTF-8 text.");
      throw errors.thrown();
    }
  }
}
