package nodley.core.describe;

import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;
import nodley.core.expression.Expression;
import nodley.core.expression.Path;
import nodley.core.form.Checking;
import nodley.core.form.Choice;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Limits;
import nodley.core.form.Pages;
import nodley.core.form.Rule;
import nodley.core.form.Sentence;
import nodley.core.form.Span;
import nodley.core.form.Tidying;
import nodley.core.form.Type;
import nodley.core.pattern.IRegexp;
import nodley.core.submission.Context;
import nodley.core.submission.Sentences;
import nodley.core.text.Message;

/**
 * Writes the description of a form as JSON: all that a page needs to show it and run its rules.
 * Keys with default values are left out.
 */
public final class Description {

  private static final List<String> WORDS =
      List.of(
          "mend",
          "saving",
          "row.less",
          "row.up",
          "counter",
          "counter.over",
          "tidied",
          "understood",
          "dropped",
          "found",
          "file.sending",
          "file.done",
          "file.waiting",
          "file.failed",
          "file.remove",
          "file.stop",
          "file.removed",
          "elsewhere",
          "removed",
          "reload",
          "sent",
          "unreached",
          "asking-service",
          "unasked-service",
          "changed",
          "conflict.retry",
          "conflict.line",
          "conflict.take");

  /** The words of pages that keep drafts, besides. */
  private static final List<String> DRAFT_WORDS =
      List.of("draft.kept", "draft.unkept", "draft.full", "draft.merged", "step.of");

  private final Form form;
  private final Sentences sentences;
  private final Uniques uniques;
  private final Asks asks;

  private Description(Form form) {
    this.form = form;
    this.sentences = Sentences.of(form);
    this.uniques = new Uniques(form);
    this.asks = new Asks(form);
  }

  /**
   * Describes a form.
   *
   * @param revision the number of the published text
   * @param context gives the clock, for a form whose rules read it, and the zone of local times
   */
  public static Map<String, Object> of(Form form, int revision, Context context) {
    return new Description(form).whole(revision, context);
  }

  private Map<String, Object> whole(int revision, Context context) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("form", form.name());
    json.put("revision", revision);
    json.put("language", form.language().toLanguageTag());
    json.put("label", form.label());
    if (form.records() != Form.Records.MANY) {
      json.put("records", form.records().word());
    }
    json.put(
        "title",
        Map.of(
            "add", form.titles().add().text(),
            "edit", form.titles().edit().text(),
            "list", form.titles().list()));
    putText(json, "intro", form.pages().intro());
    form.pages().layout().ifPresent(layout -> json.put("layout", layout.word()));
    if (!form.pages().sections().isEmpty()) {
      json.put(
          form.pages().stepped() ? "steps" : "sections",
          form.pages().sections().stream().map(this::section).toList());
    }
    form.drafting().ifPresent(it -> json.put("draft", it.joint() ? "joint" : "own"));
    form.called().ifPresent(called -> json.put("called", called.text()));
    form.confirmation().ifPresent(it -> json.put("confirms", String.join(".", it.at())));
    json.put(
        "access",
        Map.of(
            "add", form.access().add().toJson(),
            "see", form.access().see().toJson(),
            "edit", form.access().edit().toJson(),
            "remove", form.access().remove().toJson()));
    Clock clock = Clock.of(form);
    ZoneId zone = form.zone().orElse(context.zone());
    if (clock.today() || clock.now() || clock.zone()) {
      json.put("zone", zone.getId().equals("Z") ? "UTC" : zone.getId());
    }
    if (clock.today()) {
      json.put("today", context.today(form).toString());
    }
    if (clock.now()) {
      json.put("now", context.now().toString());
    }
    json.put("words", words());
    json.put("fields", fields(form.fields()));
    if (!form.rules().isEmpty()) {
      json.put("rules", form.rules().stream().map(it -> rule(it, true)).toList());
    }
    List<String> settling =
        form.settling().stream()
            .filter(path -> form.fields().isOnPages(path.names()))
            .map(Path::toString)
            .toList();
    if (!settling.isEmpty()) {
      json.put("settling", settling);
    }
    return json;
  }

  private Map<String, Object> section(Pages.Section section) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("name", section.name());
    json.put("title", section.title());
    json.put(
        "fields",
        section.fields().stream().filter(it -> form.fields().isOnPages(List.of(it))).toList());
    return json;
  }

  /** What the page's script says besides errors. */
  private Map<String, Object> words() {
    Map<String, Object> words = new LinkedHashMap<>();
    Map<String, Message> all = sentences.all();
    Stream.concat(WORDS.stream(), form.drafting().stream().flatMap(_ -> DRAFT_WORDS.stream()))
        .forEach(word -> words.put(word, all.get("page." + word).toJson(form.language())));
    for (String word : List.of("unknown-field", "unknown-field.near")) {
      words.put(word, all.get(word).toJson(form.language()));
    }
    return words;
  }

  private List<Map<String, Object>> fields(Fields fields) {
    return fields.onPages().stream().map(this::field).toList();
  }

  private Map<String, Object> field(Field field) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("name", field.name());
    json.put("type", field.type().word());
    json.put("control", field.control().word());
    if (field.checking() != Checking.LEAVING) {
      json.put("check", field.checking().word());
    }
    if (field.source().prefill()) {
      json.put("prefill", true);
    }
    json.put("label", field.label());
    if (field.isMasked() && !field.isSecret()) {
      json.put("masked", true);
    }
    putText(json, "help", field.wording().help());
    putText(json, "placeholder", field.wording().placeholder());
    putText(json, "unit", field.wording().unit());
    putText(json, "add", field.wording().add());
    json.put("required", field.presence().required().toJson());
    if (!field.presence().shown().isAlways()) {
      json.put("shown", field.presence().shown().toJson());
    }
    if (!field.presence().editable().isAlways()) {
      json.put("editable", field.presence().editable().toJson());
    }
    source(field.source(), json);
    if (field.type().isScalar()) {
      json.put("tidy", tidying(field.tidying()));
    }
    limits(field, json);
    options(field, json);
    onService(field, json);
    uniques.describe(field, json);
    asks.describe(field, json);
    field.refersTo().ifPresent(other -> json.put("refersTo", other));
    field.repeats().ifPresent(other -> json.put("repeats", other));
    if (!field.rules().isEmpty()) {
      json.put("rules", field.rules().stream().map(it -> rule(it, false)).toList());
    }
    if (!field.type().isScalar()) {
      json.put("fields", fields(field.fields()));
    }
    Map<String, Object> say = new LinkedHashMap<>();
    keys(field).forEach(key -> say.put(key, sentence(sentences.sentence(field, key))));
    if (asks.isAt(field)) {
      // Where others are asked, that is what the page waits for.
      for (String state : List.of("asking", "unanswered")) {
        say.put(state, sentence(sentences.sentence(field, state + ".ask")));
      }
    }
    json.put("say", say);
    return json;
  }

  private static void source(Field.Source source, Map<String, Object> json) {
    source.literal().ifPresent(value -> json.put("default", value.toJson()));
    source.computed().ifPresent(it -> json.put("defaultTo", it.toJson()));
    source.suggest().ifPresent(it -> json.put("suggest", it.toJson()));
    source.compute().ifPresent(it -> json.put("compute", it.toJson()));
    if (!source.kept()) {
      json.put("kept", false);
    }
  }

  /** A rule of the form as a whole needs words here; that of a field has its field's. */
  private Map<String, Object> rule(Rule rule, boolean ofForm) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("must", rule.must().toJson());
    json.put(
        "reads",
        rule.must().reads().stream()
            .filter(Expression.Read::onPages)
            .map(Expression.Read::toString)
            .toList());
    if (rule.must().readsClock()) {
      json.put("clock", true);
    }
    if (!rule.at().isEmpty()) {
      json.put("at", String.join(".", rule.at()));
    }
    Map<String, Object> with = new TreeMap<>();
    rule.with()
        .forEach(
            (name, given) -> {
              boolean named = rule.say().filter(say -> say.names().contains(name)).isPresent();
              if (named && !given.isForServer()) {
                with.put(name, given.toJson());
              }
            });
    if (!with.isEmpty()) {
      json.put("with", with);
    }
    rule.say()
        .or(
            () ->
                ofForm && rule.at().isEmpty() ? Optional.of(sentences.overall()) : Optional.empty())
        .ifPresent(say -> json.put("say", sentence(say)));
    return json;
  }

  private Object sentence(Sentence sentence) {
    Object text = sentence.text().toJson(form.language());
    return sentence
        .link()
        .<Object>map(
            link ->
                Map.of(
                    "text",
                    text,
                    "link",
                    Map.of(
                        "text", link.text().toJson(form.language()), "href", link.href().text())))
        .orElse(text);
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
    if (tidying.scheme()) {
      json.put("scheme", true);
    }
    tidying.keep().ifPresent(keep -> json.put("keep", keep.one().browser()));
    return json;
  }

  private static void limits(Field field, Map<String, Object> json) {
    Limits limits = field.limits();
    span(limits.length(), json, "length", length -> length);
    span(limits.range(), json, "range", End::toJson);
    limits
        .step()
        .ifPresent(
            step -> {
              json.put("step", step);
              json.put("base", limits.stepBase());
            });
    limits.decimals().ifPresent(decimals -> json.put("decimals", decimals));
    limits
        .pattern()
        .filter(IRegexp::isSafeInBrowsers)
        .ifPresent(pattern -> json.put("pattern", pattern.browser()));
    span(limits.count(), json, "count", count -> count);
    span(limits.size(), json, "size", size -> size);
    if (!limits.accept().isEmpty()) {
      json.put("accept", limits.accept());
    }
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

  /** What is too much for a page, or not safe there: the service alone judges by it. */
  private static void onService(Field field, Map<String, Object> json) {
    List<String> keys = new ArrayList<>();
    if (field.hasOptionsOnService()) {
      keys.add("options");
    }
    if (field.limits().pattern().filter(it -> !it.isSafeInBrowsers()).isPresent()) {
      keys.add("pattern");
    }
    if (!keys.isEmpty()) {
      json.put("onService", keys);
    }
  }

  private static void options(Field field, Map<String, Object> json) {
    if (!field.hasOptionsOnService() && !field.options().choices().isEmpty()) {
      json.put("options", field.options().choices().stream().map(Description::option).toList());
    }
    field.options().where().ifPresent(where -> json.put("where", where.toJson()));
  }

  private static Map<String, Object> option(Choice option) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("value", option.value());
    json.put("label", option.label());
    if (!option.offered()) {
      json.put("offered", false);
    }
    Map<String, Object> marks = new LinkedHashMap<>();
    option
        .marks()
        .byName()
        .forEach(
            (name, value) -> {
              if (!name.equals("value") && !name.equals("label")) {
                marks.put(name, value.toJson());
              }
            });
    if (!marks.isEmpty()) {
      json.put("marks", marks);
    }
    return json;
  }

  private static void putText(Map<String, Object> json, String key, String text) {
    if (!text.isEmpty()) {
      json.put(key, text);
    }
  }

  /** What the clock of a form's rules is needed for. */
  private record Clock(boolean today, boolean now, boolean zone) {

    static Clock of(Form form) {
      boolean today = false;
      boolean now = false;
      boolean zone = false;
      boolean read = form.rules().stream().anyMatch(rule -> rule.must().readsClock());
      for (Form.Placed placed : form.everyField()) {
        Field field = placed.field();
        zone |= field.type() == Type.DATETIME;
        for (End end : ends(field.limits().range())) {
          today |= end instanceof End.Today;
          now |= end instanceof End.Now;
        }
        read |= field.rules().stream().anyMatch(rule -> rule.must().readsClock());
        read |= field.expressions().anyMatch(Expression::readsClock);
      }
      return new Clock(today || read, now || read, zone);
    }

    private static List<End> ends(Span<End> range) {
      List<End> ends = new ArrayList<>();
      range.min().ifPresent(ends::add);
      range.max().ifPresent(ends::add);
      return ends;
    }
  }

  /** A rule without words of its own takes the field's. */
  private boolean isRuled(Field field) {
    return Stream.concat(form.rules().stream(), everyRule(form.fields()))
            .anyMatch(rule -> rule.say().isEmpty())
        || field.rules().stream().anyMatch(rule -> rule.say().isEmpty());
  }

  private static Stream<Rule> everyRule(Fields fields) {
    return fields.stream()
        .flatMap(field -> Stream.concat(field.rules().stream(), everyRule(field.fields())));
  }

  /** The codes that the field can meet, and the states that it can be in. */
  private List<String> keys(Field field) {
    Limits limits = field.limits();
    List<String> keys = new ArrayList<>();
    if (!field.presence().required().isNever()) {
      keys.add("value-missing");
    }
    keys.add("bad-input");
    if (!field.presence().editable().isAlways()) {
      keys.add("not-editable");
    }
    switch (field.type()) {
      case EMAIL, URL, PHONE -> keys.add("type-mismatch");
      case CHOICE, CHOICES -> keys.add("not-an-option");
      case RECORD -> keys.add("no-such-record");
      case DECIMAL -> {
        keys.add("too-precise");
        limits.decimals().ifPresent(_ -> keys.add("too-precise.decimals"));
      }
      default -> {
        // Other types have no code of their own.
      }
    }
    limits.length().min().ifPresent(_ -> keys.add("too-short"));
    limits.length().max().ifPresent(_ -> keys.add("too-long"));
    limits.range().min().ifPresent(_ -> keys.add("range-underflow"));
    limits.range().max().ifPresent(_ -> keys.add("range-overflow"));
    limits.step().ifPresent(_ -> keys.add("step-mismatch"));
    limits.pattern().ifPresent(_ -> keys.add("pattern-mismatch"));
    limits.count().min().ifPresent(_ -> keys.add("too-few"));
    limits.count().max().ifPresent(_ -> keys.add("too-many"));
    field.repeats().ifPresent(_ -> keys.add("not-repeated"));
    if (isRuled(field)) {
      keys.add("rule");
    }
    if (uniques.isAt(field)) {
      keys.addAll(List.of("taken", "asking", "free", "unanswered"));
    }
    return keys;
  }
}
