package nodley.core.submission;

import java.util.List;

/** The codes of errors in a submission; the first nine are HTML's, of constraint validation. */
public final class Codes {

  public static final List<String> ALL =
      List.of(
          "value-missing",
          "bad-input",
          "type-mismatch",
          "too-short",
          "too-long",
          "range-underflow",
          "range-overflow",
          "step-mismatch",
          "pattern-mismatch",
          "too-precise",
          "not-an-option",
          "no-such-record",
          "too-few",
          "too-many",
          "not-repeated",
          "taken",
          "held",
          "rule",
          "unknown-field",
          "not-editable",
          "file-too-large",
          "file-type",
          "file-harmful",
          "no-such-upload",
          "ask-refused",
          "ask-unanswered");

  private Codes() {}
}
