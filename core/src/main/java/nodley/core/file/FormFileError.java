package nodley.core.file;

import java.util.Optional;

/**
 * An error in a form file.
 *
 * @param line counted from 1
 * @param column counted from 1, in UTF-16 units
 * @param pointer a JSON Pointer (RFC 6901) as a fragment, such as {@code #/fields/name/length}
 * @param code one of unreadable, unknown-key, missing-key, duplicate, wrong-type, unknown-name,
 *     bad-value, bad-pattern, bad-text
 * @param suggestion the name that was probably meant
 */
public record FormFileError(
    int line, int column, String pointer, String code, String detail, Optional<String> suggestion) {

  @Override
  public String toString() {
    return line + ":" + column + " " + code + " " + detail;
  }
}
