package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.Map;
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

  /** Returns it as an object of a reply. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("line", line);
    json.put("column", column);
    json.put("pointer", pointer);
    json.put("code", code);
    json.put("detail", detail);
    suggestion.ifPresent(name -> json.put("suggestion", name));
    return json;
  }

  @Override
  public String toString() {
    return line + ":" + column + " " + code + " " + detail;
  }
}
