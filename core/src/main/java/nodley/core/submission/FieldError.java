package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * One reason for a refusal.
 *
 * @param pointer a JSON Pointer (RFC 6901) into the submitted values, as a fragment
 * @param code from HTML's constraint validation, or one of Nodley's own
 * @param detail a sentence for the person who typed
 * @param params the values that the sentence speaks of
 * @param link a way out, where the form names one
 */
public record FieldError(
    String pointer, String code, String detail, Map<String, Object> params, Optional<Link> link) {

  /** A link behind the sentence, filled in. */
  public record Link(String text, String href) {}

  FieldError(String pointer, String code, String detail, Map<String, Object> params) {
    this(pointer, code, detail, params, Optional.empty());
  }

  /** Returns it as an object of a verdict. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("pointer", pointer);
    json.put("code", code);
    json.put("detail", detail);
    json.put("params", params);
    link.ifPresent(it -> json.put("link", Map.of("text", it.text(), "href", it.href())));
    return json;
  }
}
