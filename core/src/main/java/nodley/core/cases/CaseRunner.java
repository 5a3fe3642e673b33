package nodley.core.cases;

import java.math.BigDecimal;
import java.time.Clock;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import nodley.core.file.CaseFile;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.value.Raw;

/**
 * Runs the cases of a case file through the pipeline and says where a verdict is not the expected
 * one. Nothing is stored and nobody is asked: references and unique values count as right.
 * Stateless.
 */
public final class CaseRunner {

  private CaseRunner() {}

  /**
   * Judges a case with nobody to ask; the verdict as the wire would tell it.
   *
   * @param clock gives today and now, unless the file says another moment
   */
  public static Map<String, Object> judge(
      Form form, CaseFile file, CaseFile.Case one, Clock clock) {
    ZoneId zone = form.zone().orElse(clock.getZone());
    Clock at = file.now().map(now -> Clock.fixed(now, zone)).orElse(clock.withZone(zone));
    Context add = Context.add(at);
    Context context =
        one.before()
            .map(
                before ->
                    add.editing(
                        "before",
                        Submission.check(form, input(before), add, Lookups.NONE).values()))
            .orElse(add);
    return Submission.check(form, input(one.in()), context, Lookups.NONE).toJson();
  }

  private static Input input(Map<String, Raw> members) {
    return new Input(members, Input.Encoding.JSON);
  }

  /**
   * What differs between the expected and the given verdict, a line each; nothing if all is well.
   *
   * @param verdict with {@code verdict}, {@code errors} and {@code values}, as a check answers
   */
  public static List<String> differences(CaseFile.Case one, Map<String, Object> verdict) {
    List<String> lines = new ArrayList<>();
    Object word = verdict.get("verdict");
    Map<String, String> codes = new TreeMap<>();
    Map<String, String> details = new LinkedHashMap<>();
    if (verdict.get("errors") instanceof List<?> errors) {
      for (Object item : errors) {
        Map<?, ?> error = (Map<?, ?>) item;
        String place = String.valueOf(error.get("pointer")).replaceFirst("^#/", "");
        codes.put(place, String.valueOf(error.get("code")));
        details.put(place, String.valueOf(error.get("detail")));
      }
    }
    if (!one.verdict().equals(word)) {
      lines.add("expected " + one.verdict() + ", came " + word);
    }
    if (one.errors().isPresent()) {
      Map<String, String> expected = one.errors().get();
      expected.forEach(
          (place, code) -> {
            if (!code.equals(codes.get(place))) {
              lines.add(
                  place + ": expected " + code + ", came " + codes.getOrDefault(place, "no error"));
            }
          });
      codes.forEach(
          (place, code) -> {
            if (!expected.containsKey(place)) {
              lines.add(place + ": came " + code + ", not expected: " + details.get(place));
            }
          });
    } else if (!one.verdict().equals(word)) {
      codes.forEach(
          (place, code) -> lines.add(place + ": came " + code + ": " + details.get(place)));
    }
    Map<?, ?> values = verdict.get("values") instanceof Map<?, ?> map ? map : Map.of();
    one.values()
        .forEach(
            (name, raw) -> {
              Object expected = plain(raw.toJson());
              Object came = plain(values.get(name));
              if (!Objects.equals(expected, came)) {
                lines.add(name + ": expected " + expected + ", came " + came);
              }
            });
    return lines;
  }

  /** Numbers compare by value; a blank member is an absent one. */
  private static Object plain(Object tree) {
    return switch (tree) {
      case null -> null;
      case Number number -> new BigDecimal(number.toString()).stripTrailingZeros().toPlainString();
      case List<?> list -> list.stream().map(CaseRunner::plain).toList();
      case Map<?, ?> map -> {
        Map<String, Object> members = new TreeMap<>();
        map.forEach(
            (name, value) -> {
              if (value != null) {
                members.put(name.toString(), plain(value));
              }
            });
        yield members;
      }
      default -> tree;
    };
  }
}
