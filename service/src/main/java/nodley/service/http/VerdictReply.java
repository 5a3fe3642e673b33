package nodley.service.http;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.submission.FieldError;
import nodley.core.submission.Proposal;
import nodley.core.submission.Verdict;
import nodley.core.value.Values;

/**
 * The answer to a check.
 *
 * @param verdict {@code accepted} or {@code refused}
 * @param values the tidied values
 * @param unasked pointers of fields that could not be looked up
 * @param decided by pointer, the conditions that a page cannot evaluate; left out if there are none
 * @param fill values that services outside propose for fields; left out if there are none
 * @param held by pointer, until when a free value is held for the page; left out if none was to be
 */
public record VerdictReply(
    String verdict,
    Values values,
    List<FieldError> errors,
    List<String> unasked,
    Optional<Map<String, Map<String, Boolean>>> decided,
    Optional<List<Map<String, Object>>> fill,
    Optional<Map<String, String>> held) {

  /** A verdict, as its caller is told it. */
  public static VerdictReply of(Verdict verdict, Optional<Map<String, Instant>> held) {
    return new VerdictReply(
        verdict.word(),
        verdict.values(),
        verdict.errors(),
        verdict.unasked(),
        Optional.of(verdict.decided()).filter(it -> !it.isEmpty()),
        Optional.of(verdict.proposals().stream().map(Proposal::toJson).toList())
            .filter(it -> !it.isEmpty()),
        held.map(VerdictReply::texts));
  }

  private static Map<String, String> texts(Map<String, Instant> moments) {
    Map<String, String> texts = new LinkedHashMap<>();
    moments.forEach((pointer, moment) -> texts.put(pointer, moment.toString()));
    return texts;
  }
}
