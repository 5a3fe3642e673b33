package nodley.core.line;

import java.util.LinkedHashMap;
import java.util.Map;

/**
 * One reason for a refusal.
 *
 * @param pointer a JSON Pointer (RFC 6901) into the submitted values, as a fragment
 * @param code from HTML's constraint validation, or one of Nodley's own
 * @param detail a sentence for the person who typed
 * @param params the values that the sentence speaks of
 */
public record FieldError(String pointer, String code, String detail, Map<String, Object> params) {

  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("pointer", pointer);
    json.put("code", code);
    json.put("detail", detail);
    json.put("params", params);
    return json;
  }
}
