package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.Map;
import nodley.core.value.Value;

/**
 * A value that a service outside proposes for a field: a page fills it in for review, and it is
 * judged like anything typed.
 *
 * @param pointer of the field
 * @param detail a sentence about where it comes from
 */
public record Proposal(String pointer, Value value, String detail) {

  /** Returns it as an object of a verdict. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("pointer", pointer);
    json.put("value", value.toJson());
    json.put("detail", detail);
    return json;
  }
}
