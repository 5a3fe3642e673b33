package nodley.core.file;

import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Retention;

/**
 * Reads how long a form keeps its records and what becomes of those of somebody who is forgotten:
 * {@code keep-for} and {@code forget}. What cannot be read is added to the errors, and the default
 * is taken, so that reading goes on.
 */
final class RetentionReader {

  private static final Pattern TIME = Pattern.compile("([1-9][0-9]{0,3}) +(day|week|month|year)s?");

  private final Section file;
  private final Fields fields;
  private final Errors errors;

  RetentionReader(Section file, Fields fields, Errors errors) {
    this.file = file;
    this.fields = fields;
    this.errors = errors;
  }

  Retention read() {
    Optional<Period> keepFor = time(file, "keep-for");
    Node forget = file.node("forget").orElse(null);
    if (forget == null) {
      return new Retention(keepFor, Retention.Forgetting.KEEP, List.of());
    }
    if (forget instanceof Node.Mapping) {
      return new Retention(keepFor, Retention.Forgetting.BLANK, blanked());
    }
    boolean remove =
        file.word("forget", Retention.Forgetting.KEEP.word(), Retention.Forgetting.REMOVE.word())
            .filter(Retention.Forgetting.REMOVE.word()::equals)
            .isPresent();
    return new Retention(
        keepFor, remove ? Retention.Forgetting.REMOVE : Retention.Forgetting.KEEP, List.of());
  }

  /** A length of time, as a key of a section has it. */
  static Optional<Period> time(Section section, String key) {
    Optional<String> text = section.text(key);
    Optional<Matcher> time = text.map(TIME::matcher).filter(Matcher::matches);
    if (text.isPresent() && time.isEmpty()) {
      section.bad(
          key,
          "bad-value",
          "`" + key + "` is a number of days, weeks, months or years, such as `2 years`.");
    }
    return time.map(
        it -> {
          int count = Integer.parseInt(it.group(1));
          return switch (it.group(2)) {
            case "day" -> Period.ofDays(count);
            case "week" -> Period.ofWeeks(count);
            case "month" -> Period.ofMonths(count);
            default -> Period.ofYears(count);
          };
        });
  }

  private List<String> blanked() {
    Section section = file.section("forget").orElseThrow();
    int before = errors.count();
    section.allow(FormKeys.FORGET);
    if (!section.has("blank") && errors.count() == before) {
      section.missing("`forget` is `remove`, `keep`, or names fields: `{ blank: [name, phone] }`.");
    }
    List<String> names = new ArrayList<>();
    for (Node item : section.items("blank").orElse(List.of())) {
      String name = Section.textOf(item).orElse("");
      Field field = fields.find(name).orElse(null);
      if (field == null) {
        errors.unknown(item.place(), section.pointer("blank"), "field", name, fields.names(), "");
      } else if (names.contains(name)) {
        errors.add(
            item.place(),
            section.pointer("blank"),
            "duplicate",
            "`blank` has `" + name + "` twice.");
      } else {
        names.add(name);
      }
    }
    if (section.has("blank") && names.isEmpty() && errors.count() == before) {
      section.bad("blank", "bad-value", "`blank` names at least one field.");
    }
    return names;
  }
}
