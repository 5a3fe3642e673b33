package nodley.core.line;

import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Properties;
import java.util.stream.Stream;
import nodley.core.form.Field;
import nodley.core.form.Limits;
import nodley.core.form.Template;
import nodley.core.name.Pointer;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/** The sentences that errors and early checks are told in: the field's own, else Nodley's. */
public final class Sentences {

  public static final Sentences ENGLISH = new Sentences("/nodley/core/text/sentences.properties");

  /** What a field may say in its own words: the codes, and the states of the early check. */
  public static final List<String> KEYS =
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
          "taken",
          "asking",
          "free",
          "unanswered");

  /** What a sentence may name in braces. */
  public static final List<String> ARGUMENTS =
      List.of("label", "value", "min", "max", "step", "base", "count");

  private final Properties sentences = new Properties();

  private Sentences(String resource) {
    try (Reader in =
        new InputStreamReader(
            Sentences.class.getResourceAsStream(resource), StandardCharsets.UTF_8)) {
      sentences.load(in);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** The error of a field, with its sentence filled in. */
  FieldError error(Field field, String code, Value value) {
    Map<String, Object> params = new LinkedHashMap<>();
    if (!value.isBlank()) {
      params.put("value", value.toJson());
    }
    params.putAll(limits(field, code));
    if (code.equals("too-short") || code.equals("too-long")) {
      String text = value.shown();
      params.put("count", text.codePointCount(0, text.length()));
    }
    String detail =
        new Template(template(field, code))
            .fill(
                name ->
                    switch (name) {
                      case "label" -> field.label();
                      case "value" -> value.shown();
                      default -> Objects.toString(params.get(name), "");
                    });
    return new FieldError(Pointer.of(field.name()), code, detail, params);
  }

  /** The sentence for a code before it is filled in; the page gets these in the description. */
  public String template(Field field, String code) {
    String own = field.say().get(code);
    if (own != null) {
      return own;
    }
    return Stream.of(variant(field, code), "." + field.type().word(), "")
        .map(ending -> sentences.getProperty(code + ending))
        .filter(Objects::nonNull)
        .findFirst()
        .orElseThrow();
  }

  /** Where the limit itself asks for other words. */
  private static String variant(Field field, String code) {
    Limits limits = field.limits();
    boolean one =
        switch (code) {
          case "too-short" -> limits.length().min().filter(min -> min == 1).isPresent();
          case "too-long" -> limits.length().max().filter(max -> max == 1).isPresent();
          default -> false;
        };
    boolean shifted = code.equals("step-mismatch") && limits.stepBase().signum() != 0;
    return one ? ".one" : shifted ? ".base" : ".usual";
  }

  /** The limits that a code speaks of. */
  private static Map<String, Object> limits(Field field, String code) {
    Limits limits = field.limits();
    Map<String, Object> found = new LinkedHashMap<>();
    switch (code) {
      case "too-short", "too-long" -> {
        limits.length().min().ifPresent(min -> found.put("min", min));
        limits.length().max().ifPresent(max -> found.put("max", max));
      }
      case "range-underflow", "range-overflow" -> {
        limits.range().min().ifPresent(min -> found.put("min", min.toJson()));
        limits.range().max().ifPresent(max -> found.put("max", max.toJson()));
      }
      case "step-mismatch" -> {
        limits.step().map(Numbers::standard).ifPresent(step -> found.put("step", step));
        found.put("base", Numbers.standard(limits.stepBase()));
      }
      case "too-precise" -> found.put("max", Numbers.MAX_DIGITS);
      default -> {
        // Other codes speak of the value alone.
      }
    }
    return found;
  }
}
