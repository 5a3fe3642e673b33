package nodley.core.submission;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.value.ByteSize;
import nodley.core.value.FileRef;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/** The arguments of an error's sentence that come from the limits of its field. Stateless. */
final class LimitArguments {

  private LimitArguments() {}

  /**
   * Returns the limits that a code speaks of, and how much there is of the value, by the names in
   * {@link Sentences#ARGUMENTS}.
   *
   * @param range the range of the field as it is today and now
   */
  static Map<String, Value> of(Field field, String code, Value value, Span<Value> range) {
    Limits limits = field.limits();
    Map<String, Value> found = new LinkedHashMap<>();
    if (value instanceof Value.Files(List<FileRef> files, boolean _)) {
      ofFile(limits, code, files.getFirst(), found);
    }
    switch (code) {
      case "too-short", "too-long" -> {
        ends(limits.length(), found);
        found.put("count", number(value.shown().codePointCount(0, value.shown().length())));
      }
      case "too-few", "too-many" -> {
        ends(limits.count(), found);
        found.put("count", number(count(value)));
      }
      case "range-underflow", "range-overflow" -> {
        range.min().ifPresent(min -> found.put("min", min));
        range.max().ifPresent(max -> found.put("max", max));
      }
      case "step-mismatch" -> {
        limits.step().ifPresent(step -> found.put("step", new Value.Number(step)));
        found.put("base", new Value.Number(limits.stepBase()));
      }
      case "too-precise" ->
          found.put(
              "max",
              number(
                  isOfDecimals(code, value)
                      ? limits.decimals().orElse(Numbers.MAX_DIGITS)
                      : Numbers.MAX_DIGITS));
      default -> {
        // Other codes speak of the value alone.
      }
    }
    return found;
  }

  /**
   * Whether a number is {@code too-precise} for its decimals, and not for having too many digits.
   */
  static boolean isOfDecimals(String code, Value value) {
    return code.equals("too-precise")
        && value instanceof Value.Number(BigDecimal number)
        && Numbers.isPrecise(number);
  }

  /** What the sentences of one file say: how large it is, or of which type. */
  static void ofFile(Limits limits, String code, FileRef file, Map<String, Value> found) {
    switch (code) {
      case "file-too-large", "range-underflow" -> {
        limits.size().min().ifPresent(min -> found.put("min", size(min)));
        limits.size().max().ifPresent(max -> found.put("max", size(max)));
        found.put("count", size(file.size()));
      }
      case "file-type" -> {
        found.put("max", new Value.Text(String.join(", ", limits.accept())));
        found.put("count", new Value.Text(file.type()));
      }
      default -> {
        // Other codes speak of all files together.
      }
    }
  }

  private static int count(Value value) {
    return switch (value) {
      case Value.Chosen(List<String> options) -> options.size();
      case Value.Files(var files, boolean _) -> files.size();
      case Value.Rows(var rows) -> rows.size();
      default -> 0;
    };
  }

  private static void ends(Span<Integer> span, Map<String, Value> found) {
    span.min().ifPresent(min -> found.put("min", number(min)));
    span.max().ifPresent(max -> found.put("max", number(max)));
  }

  private static Value size(long bytes) {
    return new Value.Text(ByteSize.shown(bytes));
  }

  private static Value number(long number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }
}
