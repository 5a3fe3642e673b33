package nodley.bench;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Type;

/** Makes form files that use every type, key and part of the expression language. */
final class RandomForms {

  private static final List<String> TYPES =
      List.of(
          "text",
          "text",
          "email",
          "url",
          "phone",
          "secret",
          "integer",
          "integer",
          "decimal",
          "decimal",
          "boolean",
          "boolean",
          "date",
          "date",
          "time",
          "datetime",
          "choice",
          "choice",
          "choices",
          "record",
          "file",
          "group",
          "rows");
  private static final List<String> PATTERNS =
      List.of("[A-Z]{2,4}[0-9]*", "\\p{Lu}.*", "a|b|ab", "[^x]+", "(ab?)*", ".{1,3}", "\\p{L}+");

  private final Dice dice;
  private final Characters characters;
  private int named;

  /** A field that expressions can name: its type, and how it is named from where it stands. */
  private record Known(String name, String type, List<String> options) {}

  RandomForms(Dice dice) {
    this.dice = dice;
    this.characters = new Characters(dice);
  }

  Map<String, Object> form() {
    named = 0;
    Map<String, Object> form = new LinkedHashMap<>();
    form.put("form", "fuzz");
    if (dice.in100(40)) {
      form.put("zone", dice.one("Europe/Lisbon", "America/New_York", "UTC", "Asia/Kolkata"));
    }
    List<Known> known = new ArrayList<>();
    form.put("fields", fields(dice.between(1, 7), 1, known, List.of()));
    if (dice.in100(50)) {
      List<Object> rules = new ArrayList<>();
      for (int i = dice.between(1, 2); i > 0; i--) {
        Map<String, Object> rule = rule(known);
        if (dice.in100(70)) {
          rule.put("at", dice.one(known).name());
        }
        rules.add(rule);
      }
      form.put("rules", rules);
    }
    return form;
  }

  private Map<String, Object> rule(List<Known> known) {
    Map<String, Object> rule = new LinkedHashMap<>();
    rule.put("must", condition(known, 3));
    if (dice.in100(70)) {
      rule.put("say", sentence(known));
    }
    return rule;
  }

  private String sentence(List<Known> known) {
    String field =
        known.stream()
            .filter(it -> !List.of("group", "rows", "secret", "record", "file").contains(it.type()))
            .map(Known::name)
            .findFirst()
            .orElse("label");
    return dice.one(
        "{label} is wrong.",
        "{label}: {value} is wrong, '{'really'}'.",
        "It''s {" + field + "}.",
        "{" + field + ", plural, =0 {none} one {# thing} other {# things}} here",
        "{" + field + ", select, a {first} true {yes} other {other {label}}}",
        "{count, selectordinal, one {#st} two {#nd} few {#rd} other {#th}}");
  }

  private Map<String, Object> fields(int count, int depth, List<Known> known, List<Known> outer) {
    Map<String, Object> fields = new LinkedHashMap<>();
    for (int i = 0; i < count; i++) {
      String type = dice.one(TYPES);
      boolean set = type.equals("group") || type.equals("rows");
      if (set && depth > 3) {
        type = "text";
      }
      List<Known> reach = new ArrayList<>(known);
      reach.addAll(outer);
      String name = dice.one("a", "b", "depth", "count", "min") + named++;
      Map<String, Object> field = field(type, depth, reach, name);
      fields.put(name, field);
      List<String> options = new ArrayList<>();
      if (field.get("options") instanceof Map<?, ?> labels && !type.equals("record")) {
        labels.keySet().forEach(key -> options.add(key.toString()));
      }
      known.add(new Known(name, type, options));
    }
    return fields;
  }

  private Map<String, Object> field(String type, int depth, List<Known> reach, String name) {
    Map<String, Object> field = new LinkedHashMap<>();
    field.put("type", type);
    Type is = Type.of(type).orElseThrow();
    if (dice.in100(30)) {
      field.put("required", dice.in100(60) ? (Object) true : condition(reach, 2));
    }
    if (dice.in100(15)) {
      field.put("shown", condition(reach, 2));
    }
    boolean computes =
        dice.in100(12)
            && !List.of("secret", "choices", "group", "rows", "record", "file").contains(type);
    if (computes) {
      field.put("compute", of(type, reach, 3));
    } else if (dice.in100(10)) {
      field.put("editable", dice.in100(40) ? (Object) false : condition(reach, 2));
    }
    if (dice.in100(10) && !reach.isEmpty()) {
      Map<String, Object> rule = rule(reach);
      field.put("rules", List.of(rule));
    }
    limits(type, is, field);
    if (!computes && is.isScalar() && !type.equals("secret") && dice.in100(20)) {
      first(type, field, reach);
    }
    if (type.equals("choice") || type.equals("choices")) {
      Map<String, Object> options = new LinkedHashMap<>();
      if (dice.in100(35)) {
        options.put("list", "marked");
        if (dice.in100(70)) {
          options.put("where", where(reach));
        }
      } else {
        options.put("a", "The a");
        options.put("b", "b");
        options.put("Ü", "Umlaut");
      }
      field.put("options", options);
    }
    if (type.equals("record")) {
      field.put("form", "boat");
      if (dice.in100(20)) {
        field.put("options", Map.of("where", "draught" + comparison() + number(reach, 1)));
      }
    }
    if (!is.isScalar()) {
      List<Known> inner = new ArrayList<>();
      field.put("fields", fields(dice.between(1, 3), depth + 1, inner, reach));
    }
    if (dice.in100(10) && is.isScalar()) {
      field.put("say", Map.of("bad-input", "{label} ({value}) is unreadable."));
    }
    return field;
  }

  /** Which options of the list are offered: by their marks, by other fields, by both. */
  private String where(List<Known> reach) {
    return dice.run(
        () -> "size" + comparison() + number(reach, 1),
        () -> dice.one("big", "big is blank or not big", "label != value"),
        () -> condition(reach, 1),
        () -> "(size < 3 or " + condition(reach, 1) + ")",
        () -> "value" + comparison() + text(reach, 0));
  }

  private void limits(String type, Type is, Map<String, Object> field) {
    if (is.isWritten() || type.equals("secret")) {
      if (dice.in100(40)) {
        field.put("length", dice.one("1..3", "2..", "..5", "3", "2..8"));
      }
      if (dice.in100(20)) {
        field.put("pattern", dice.in100(50) ? dice.one(PATTERNS) : characters.pattern());
      }
    }
    if (is.isWritten()) {
      if (dice.in100(30)) {
        field.put(
            "tidy",
            dice.one(
                List.of(),
                List.of("squeeze"),
                List.of("lower"),
                List.of("upper", "squeeze"),
                type.equals("url") ? List.of("scheme") : List.of("trim")));
      }
      if (dice.in100(10)) {
        field.put("keep", dice.one("A-Za-z0-9", "\\p{L}", "a-f\\-", characters.kept()));
      }
      if (type.equals("text") && dice.in100(20)) {
        field.put("multiline", true);
      }
    }
    if (is.isNumber()) {
      if (dice.in100(50)) {
        field.put(
            "range",
            type.equals("integer")
                ? dice.one("0..10", "-3..", "..100", "5..5")
                : dice.one("0.5..12.5", "-1.25..", "..0.3", "0..1"));
      }
      if (dice.in100(30)) {
        field.put("step", type.equals("integer") ? dice.one(1, 3, 7) : dice.one(0.1, 0.25, 3.0));
      }
      if (type.equals("decimal") && dice.in100(20)) {
        field.put("decimals", dice.below(4));
      }
    }
    switch (type) {
      case "date" -> {
        if (dice.in100(50)) {
          field.put(
              "range",
              dice.one(
                  "today..",
                  "..today + 30",
                  "today - 7..today + 7",
                  "today - 18 years..today + 3 weeks",
                  "..today - 2 months",
                  "2027-01-01..2027-12-31",
                  "..today"));
        }
      }
      case "time" -> {
        if (dice.in100(50)) {
          field.put("range", dice.one("08:00..20:30", "..12:00:30", "00:00.."));
        }
      }
      case "datetime" -> {
        if (dice.in100(50)) {
          field.put("range", dice.one("..now", "now..", "2027-01-01T00:00:00Z.."));
        }
      }
      case "choices", "rows" -> {
        if (dice.in100(50)) {
          field.put("count", dice.one("1..2", "..2", "0..3", "2.."));
        }
      }
      default -> {
        // Other types have no more limits.
      }
    }
  }

  private void first(String type, Map<String, Object> field, List<Known> reach) {
    if (type.equals("record") || type.equals("file")) {
      return;
    }
    field.put(
        "default",
        switch (type) {
          case "integer" -> dice.one((Object) 5, "5 + 0", of(type, reach, 2));
          case "decimal" -> dice.one((Object) 0.5, of(type, reach, 2));
          case "boolean" -> dice.one((Object) true, false);
          case "date" -> dice.one("2027-06-01", "today", "today + 3");
          case "time" -> "09:30";
          case "datetime" -> dice.one("2027-06-01T10:00:00Z", "now");
          case "choice", "choices" -> "b";
          case "phone" -> "+3512100000";
          case "email" -> "a@b.example";
          case "url" -> "https://a.example";
          default -> "abc";
        });
    // A first value must fit its own field; where it may not, there is none.
    for (String key : List.of("length", "pattern", "keep", "range", "step", "decimals", "count")) {
      field.remove(key);
    }
    field.remove("tidy");
  }

  /** An expression that a field of this type can come from. */
  private String of(String type, List<Known> reach, int depth) {
    return switch (type) {
      case "integer" ->
          dice.in100(50) ? whole(reach, depth) : "round(" + number(reach, depth) + ")";
      case "decimal" -> number(reach, depth);
      case "boolean" -> condition(reach, depth);
      case "date" -> date(reach, depth);
      case "time" -> named(reach, "time", "if true then " + time(reach) + " else " + time(reach));
      case "datetime" -> "now";
      default -> text(reach, depth);
    };
  }

  private String time(List<Known> reach) {
    return named(reach, "time", "min(" + named(reach, "time", "now") + ")");
  }

  private String named(List<Known> reach, String type, String otherwise) {
    List<Known> fit = reach.stream().filter(it -> it.type().equals(type)).toList();
    return fit.isEmpty() ? otherwise : dice.one(fit).name();
  }

  private String condition(List<Known> reach, int depth) {
    if (depth <= 0) {
      return named(reach, "boolean", dice.one("true", "false", "mode = \"add\""));
    }
    return dice.run(
        () -> "(" + condition(reach, depth - 1) + " and " + condition(reach, depth - 1) + ")",
        () -> "(" + condition(reach, depth - 1) + " or " + condition(reach, depth - 1) + ")",
        () -> "not (" + condition(reach, depth - 1) + ")",
        () -> number(reach, depth - 1) + comparison() + number(reach, depth - 1),
        () -> date(reach, depth - 1) + comparison() + date(reach, depth - 1),
        () -> text(reach, depth - 1) + comparison() + text(reach, depth - 1),
        () -> reach.isEmpty() ? "false" : blank(reach),
        () -> option(reach),
        () -> "matches(" + text(reach, depth - 1) + ", \"[A-Za-z]+\")",
        () -> text(reach, depth - 1) + " in [\"a\", \"abc\", \"Ü\"]",
        () ->
            "if "
                + condition(reach, depth - 1)
                + " then "
                + condition(reach, depth - 1)
                + " else "
                + condition(reach, depth - 1));
  }

  private String blank(List<Known> reach) {
    List<Known> open = reach.stream().filter(it -> !it.type().equals("secret")).toList();
    return open.isEmpty() ? "true" : dice.one(open).name() + dice.one(" is blank", " is not blank");
  }

  private String option(List<Known> reach) {
    List<Known> many = reach.stream().filter(it -> it.type().equals("choices")).toList();
    if (!many.isEmpty()) {
      return dice.one(many).name() + " has \"a\"";
    }
    List<Known> one = reach.stream().filter(it -> it.type().equals("choice")).toList();
    return one.isEmpty() ? "false" : dice.one(one).name() + dice.one(" = ", " != ") + "\"Ü\"";
  }

  private String comparison() {
    return dice.one(" = ", " != ", " < ", " <= ", " > ", " >= ");
  }

  private String whole(List<Known> reach, int depth) {
    if (depth <= 0) {
      return named(reach, "integer", Integer.toString(dice.between(0, 12)));
    }
    return dice.run(
        () ->
            "("
                + whole(reach, depth - 1)
                + dice.one(" + ", " - ", " * ")
                + whole(reach, depth - 1)
                + ")",
        () -> "length(" + text(reach, depth - 1) + ")",
        () -> "days(" + date(reach, depth - 1) + ", " + date(reach, depth - 1) + ")",
        () -> "year(" + date(reach, depth - 1) + ")",
        () -> rows(reach),
        () -> "round(" + number(reach, depth - 1) + ")",
        () -> "-" + whole(reach, depth - 1));
  }

  private String rows(List<Known> reach) {
    List<Known> many =
        reach.stream()
            .filter(it -> it.type().equals("rows") || it.type().equals("choices"))
            .toList();
    return many.isEmpty() ? "3" : "count(" + dice.one(many).name() + ")";
  }

  private String number(List<Known> reach, int depth) {
    String through = named(reach, "record", "");
    if (!through.isEmpty() && dice.in100(20)) {
      return through + ".draught";
    }
    if (depth <= 0) {
      return named(
          reach,
          dice.one("decimal", "integer"),
          new BigDecimal(dice.between(-200, 999))
              .movePointLeft(dice.below(4))
              .abs()
              .toPlainString());
    }
    return dice.run(
        () -> whole(reach, depth - 1),
        () ->
            "("
                + number(reach, depth - 1)
                + dice.one(" + ", " - ", " * ", " / ", " / ")
                + number(reach, depth - 1)
                + ")",
        () -> "round(" + number(reach, depth - 1) + ", " + dice.below(5) + ")",
        () ->
            dice.one("sum", "min", "max")
                + "("
                + number(reach, depth - 1)
                + ", "
                + number(reach, depth - 1)
                + ")");
  }

  private String date(List<Known> reach, int depth) {
    String through = named(reach, "record", "");
    if (!through.isEmpty() && dice.in100(20)) {
      return through + ".built";
    }
    if (depth <= 0) {
      return named(
          reach, "date", dice.one("today", "date(\"2027-02-28\")", "date(\"0001-01-01\")"));
    }
    return dice.run(
        () -> date(reach, 0),
        () -> "(" + date(reach, depth - 1) + dice.one(" + ", " - ") + whole(reach, depth - 1) + ")",
        () ->
            "("
                + date(reach, depth - 1)
                + dice.one(" + ", " - ")
                + whole(reach, depth - 1)
                + dice.one(" days", " weeks", " months", " month", " years", " year")
                + ")",
        () -> dice.one("min", "max") + "(" + date(reach, depth - 1) + ", " + date(reach, 0) + ")");
  }

  private String text(List<Known> reach, int depth) {
    String through = named(reach, "record", "");
    if (!through.isEmpty() && dice.in100(10)) {
      return through + dice.one(".rig", ".owner.name");
    }
    if (depth <= 0) {
      String type = dice.one("text", "email", "choice", "phone", "url");
      return named(reach, type, dice.one("\"abc\"", "\"\"", "mode", "\"Ü b\""))
          .replace("\"\"", "\"x\"");
    }
    return dice.run(
        () -> text(reach, 0),
        () -> dice.one("lower", "upper", "slug", "slug") + "(" + text(reach, depth - 1) + ")",
        () ->
            "(if "
                + condition(reach, depth - 1)
                + " then "
                + "lower("
                + text(reach, depth - 1)
                + ") else upper("
                + text(reach, depth - 1)
                + "))");
  }
}
