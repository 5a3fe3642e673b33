package nodley.store.publish;

import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A field that its form no longer has, whose values are still stored.
 *
 * @param field its dotted path
 * @param type what its values were kept as
 * @param revision the first that did not have it
 * @param values how many there are
 */
public record RetiredField(String field, String type, int revision, String retiredAt, long values) {

  RetiredField of(long values) {
    return new RetiredField(field, type, revision, retiredAt, values);
  }

  /** Returns it as an object of a reply. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("field", field);
    json.put("type", type);
    json.put("revision", revision);
    json.put("retiredAt", retiredAt);
    json.put("values", values);
    return json;
  }
}
