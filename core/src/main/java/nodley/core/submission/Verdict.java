package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.value.Values;

/**
 * The outcome of validation and lookups. Immutable.
 *
 * @param values the tidied values; one that could not be read is as it was sent
 * @param errors at most one for a field, in the order of the form
 * @param unasked pointers of open fields: something could not be looked up, or was not yet
 * @param decided by pointer, the conditions of fields that a page cannot evaluate: {@code shown},
 *     {@code required}, {@code editable}
 * @param proposals values that services outside propose for fields
 */
public record Verdict(
    Values values,
    List<FieldError> errors,
    List<String> unasked,
    Map<String, Map<String, Boolean>> decided,
    List<Proposal> proposals) {

  public Verdict {
    errors = List.copyOf(errors);
    unasked = List.copyOf(unasked);
    proposals = List.copyOf(proposals);
  }

  /** True if nothing has an error. */
  public boolean isAccepted() {
    return errors.isEmpty();
  }

  /** The word on the wire. */
  public String word() {
    return isAccepted() ? "accepted" : "refused";
  }

  /** Returns it as the body of a reply. */
  public Map<String, Object> toJson() {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("verdict", word());
    json.put("values", values.toJson());
    json.put("errors", errors.stream().map(FieldError::toJson).toList());
    json.put("unasked", unasked);
    if (!decided.isEmpty()) {
      json.put("decided", decided);
    }
    if (!proposals.isEmpty()) {
      json.put("fill", proposals.stream().map(Proposal::toJson).toList());
    }
    return json;
  }
}
