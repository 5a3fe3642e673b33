package nodley.core.describe;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Tidying;
import nodley.core.form.Type;
import nodley.core.line.Sentences;

/** Writes a form's description as a JSON tree; keys that would say nothing are left out. */
public final class Description {

  private Description() {}

  /**
   * Describes a form.
   *
   * @param revision the number of the published text
   */
  public static Map<String, Object> of(Form form, int revision) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("form", form.name());
    json.put("revision", revision);
    json.put("label", form.label());
    json.put(
        "title",
        Map.of(
            "add", form.titles().add().text(),
            "edit", form.titles().edit().text(),
            "list", form.titles().list()));
    form.called().ifPresent(called -> json.put("called", called.text()));
    json.put(
        "access",
        Map.of(
            "add", form.access().add().word(),
            "see", form.access().see().word(),
            "edit", form.access().edit().word(),
            "remove", form.access().remove().word()));
    json.put("fields", form.fields().stream().map(Description::of).toList());
    return json;
  }

  private static Map<String, Object> of(Field field) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("name", field.name());
    json.put("type", field.type().word());
    json.put("control", field.control().word());
    json.put("label", field.label());
    putText(json, "help", field.wording().help());
    putText(json, "placeholder", field.wording().placeholder());
    putText(json, "unit", field.wording().unit());
    json.put("required", field.required());
    field.first().ifPresent(value -> json.put("default", value.toJson()));
    json.put("tidy", tidying(field.tidying()));
    limits(field.limits(), json);
    if (field.type() == Type.CHOICE) {
      json.put("options", field.options().stream().map(Description::option).toList());
    }
    field.unique().ifPresent(_ -> json.put("unique", true));
    field.refersTo().ifPresent(form -> json.put("refersTo", form));
    Map<String, Object> say = new LinkedHashMap<>();
    codes(field).forEach(code -> say.put(code, Sentences.ENGLISH.template(field, code)));
    json.put("say", say);
    return json;
  }

  private static Map<String, Object> tidying(Tidying tidying) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("trim", tidying.trim());
    if (tidying.squeeze()) {
      json.put("squeeze", tidying.multiline() ? "in-line" : "all");
    }
    switch (tidying.letters()) {
      case LOWER -> json.put("case", "lower");
      case UPPER -> json.put("case", "upper");
      case AS_TYPED -> {}
    }
    tidying.keep().ifPresent(keep -> json.put("keep", keep.one().browser()));
    return json;
  }

  private static void limits(Limits limits, Map<String, Object> json) {
    span(limits.length(), json, "length", length -> length);
    span(limits.range(), json, "range", value -> value.toJson());
    limits
        .step()
        .ifPresent(
            step -> {
              json.put("step", step);
              json.put("base", limits.stepBase());
            });
    limits.pattern().ifPresent(pattern -> json.put("pattern", pattern.browser()));
  }

  private static <T> void span(
      Span<T> span, Map<String, Object> json, String key, Function<T, Object> written) {
    Map<String, Object> ends = new LinkedHashMap<>();
    span.min().ifPresent(min -> ends.put("min", written.apply(min)));
    span.max().ifPresent(max -> ends.put("max", written.apply(max)));
    if (!ends.isEmpty()) {
      json.put(key, ends);
    }
  }

  private static Map<String, Object> option(Field.Choice option) {
    return Map.of("value", option.value(), "label", option.label());
  }

  private static void putText(Map<String, Object> json, String key, String text) {
    if (!text.isEmpty()) {
      json.put(key, text);
    }
  }

  /** The codes that the field can meet, and the states that it can be in. */
  private static List<String> codes(Field field) {
    Limits limits = field.limits();
    List<String> codes = new ArrayList<>();
    if (field.required()) {
      codes.add("value-missing");
    }
    codes.add("bad-input");
    switch (field.type()) {
      case EMAIL -> codes.add("type-mismatch");
      case CHOICE -> codes.add("not-an-option");
      case RECORD -> codes.add("no-such-record");
      case DECIMAL -> codes.add("too-precise");
      case TEXT, INTEGER, BOOLEAN, DATE -> {}
    }
    limits.length().min().ifPresent(_ -> codes.add("too-short"));
    limits.length().max().ifPresent(_ -> codes.add("too-long"));
    limits.range().min().ifPresent(_ -> codes.add("range-underflow"));
    limits.range().max().ifPresent(_ -> codes.add("range-overflow"));
    limits.step().ifPresent(_ -> codes.add("step-mismatch"));
    limits.pattern().ifPresent(_ -> codes.add("pattern-mismatch"));
    field.unique().ifPresent(_ -> codes.addAll(List.of("taken", "asking", "free", "unanswered")));
    return codes;
  }
}
