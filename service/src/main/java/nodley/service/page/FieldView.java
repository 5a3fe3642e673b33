package nodley.service.page;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Choice;
import nodley.core.form.Control;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.submission.FieldError;
import nodley.core.submission.Sentences;
import nodley.core.text.Notation;
import nodley.core.value.Value;

/**
 * One field, prepared for its template: every question that the template asks is a method here, so
 * that the template decides nothing. Immutable; for one page.
 *
 * @param name as a form sends it: {@code contact.email}, {@code crew[0].name}
 * @param display the value for reading, where the field cannot be edited
 * @param fields what is inside a group
 * @param files those of a field of files
 * @param rows what is inside rows, a few blank ones at their end
 */
record FieldView(
    Field field,
    String name,
    Value value,
    Optional<FieldError> wrongness,
    List<Choice> offered,
    boolean editable,
    String display,
    ZoneId zone,
    Sentences words,
    List<FieldView> fields,
    List<FileView> files,
    List<RowView> rows) {

  /** One option: whether it is the chosen one, and whether other values rule it out. */
  record OptionView(String id, String value, String label, boolean chosen, boolean off) {}

  /**
   * One row of rows.
   *
   * @param row its name, {@code crew[0]}
   * @param less what the button says that removes it
   * @param up what the button says that moves it up
   * @param kept the number of the kept row that it is; empty for a new one
   */
  record RowView(
      String number,
      String row,
      String less,
      String up,
      boolean first,
      String kept,
      List<FieldView> fields) {}

  private static final int MOST_IN_LINE = 4;

  private static final Set<Control> SHORT =
      EnumSet.of(
          Control.TEXT,
          Control.NUMBER,
          Control.DATE,
          Control.TIME,
          Control.SELECT,
          Control.EMAIL,
          Control.PHONE);

  private String word(String key) {
    return words.word(key, Map.of());
  }

  /** The id of its control, or of what is around several. */
  String id() {
    return "f-" + name.replace("[", "-").replace("]", "").replace('.', '-');
  }

  /** What a link to the field leads to: a set of buttons has no one control, but a first. */
  String anchor() {
    return isRadio() || isCheckboxes() ? id() + "-0" : id();
  }

  /** What it is called, in the language of the page. */
  String label() {
    return field.label();
  }

  /** The sentence under its label; empty if the form has none. */
  String help() {
    return field.wording().help();
  }

  /** An example in the empty control; empty if the form has none. */
  String placeholder() {
    return field.wording().placeholder();
  }

  /** What its number counts, such as {@code m}; empty if the form names none. */
  String unit() {
    return field.wording().unit();
  }

  /** True if it must always be filled in. */
  boolean required() {
    return field.presence().required().isAlways();
  }

  /** Marked as what must be filled in; where that depends, the script decides. */
  boolean mayBeNeeded() {
    boolean never = field.presence().required().isNever();
    return !never && !isCheckbox() && !isSet() && editable;
  }

  /** Marked as what may be left out. */
  boolean optional() {
    return !required() && !isCheckbox() && !isSet() && editable;
  }

  /** True if it must be filled in under a condition, which the script follows. */
  boolean depends() {
    return !required() && !field.presence().required().isNever();
  }

  /** True if an error stands at it. */
  boolean wrong() {
    return wrongness.isPresent();
  }

  /** Its error as a sentence; empty if there is none. */
  String error() {
    return wrongness.map(FieldError::detail).orElse("");
  }

  /** True if its error leads somewhere, such as to the record that has the value. */
  boolean hasLink() {
    return wrongness.flatMap(FieldError::link).isPresent();
  }

  /** What the link of its error says; empty if it has none. */
  String linkText() {
    return wrongness.flatMap(FieldError::link).map(FieldError.Link::text).orElse("");
  }

  /** Where the link of its error leads; empty if it has none. */
  String linkHref() {
    return wrongness.flatMap(FieldError::link).map(FieldError.Link::href).orElse("");
  }

  /** A secret never comes back; a moment is shown in local time, as its control wants it. */
  String text() {
    if (field.isSecret()) {
      return "";
    }
    return switch (value) {
      case Value.Moment(Instant instant) -> LocalDateTime.ofInstant(instant, zone).toString();
      // A slider speaks no language.
      case Value.Number(BigDecimal number) when !isSlider() ->
          Notation.of(words.language()).typed(number);
      default -> value.shown();
    };
  }

  /** Where what is absent takes a default, a box says that it is not ticked. */
  boolean saysUnticked() {
    return field.source().hasDefault() && !name.contains("[");
  }

  /** True if its box is ticked. */
  boolean ticked() {
    return value instanceof Value.Bool(boolean yes) && yes;
  }

  /** True if it is shown only: computed, or not for the caller to edit. */
  boolean isOutput() {
    return !editable && field.type().isScalar();
  }

  /** True if it takes a secret, which no page shows. */
  boolean isSecret() {
    return field.isSecret() && editable;
  }

  /** A slider always stands somewhere: where nothing may be said, a number is typed. */
  boolean isSlider() {
    return field.control() == Control.SLIDER && (required() || !value.isBlank());
  }

  /** The ends of a slider, which are numbers: a form file says so. */
  String lowest() {
    return field.limits().range().min().map(FieldView::end).orElse("");
  }

  /** The other end; empty if the form sets none. */
  String highest() {
    return field.limits().range().max().map(FieldView::end).orElse("");
  }

  private static String end(End end) {
    return end instanceof End.Fixed(Value value) ? value.shown() : "";
  }

  /** True if its options are searched for, rather than listed. */
  boolean isSearch() {
    return field.control() == Control.SEARCH;
  }

  /** True if its box looks like a switch. */
  boolean isSwitch() {
    return field.control() == Control.SWITCH;
  }

  /** True if what is offered depends on other values. */
  boolean depending() {
    return editable && field.options().where().isPresent();
  }

  /** True if it says how much of its longest text is used. */
  boolean hasCounter() {
    return isTextarea() && field.limits().length().max().isPresent();
  }

  /** How much of a text there is, of how much there may be. */
  String counter() {
    int max = field.limits().length().max().orElse(0);
    String text = text();
    return words.word(
        "page.counter",
        Map.of(
            "count", number(text.codePointCount(0, text.length())),
            "max", number(max)));
  }

  private static Value number(int number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }

  /** True if it has fields inside: a {@code fieldset} is around them. */
  boolean isSet() {
    return isGroup() || isRows();
  }

  /** True if it is a group of fields, once. */
  boolean isGroup() {
    return field.type() == Type.GROUP;
  }

  /** True if it is a group of fields that may come several times. */
  boolean isRows() {
    return field.type() == Type.ROWS;
  }

  /** True if a row of it fits into one line: few fields, and all of them short. */
  boolean isLine() {
    return field.fields().size() <= MOST_IN_LINE
        && field.fields().stream().allMatch(it -> SHORT.contains(it.control()));
  }

  /** What the button says that adds a row. */
  String more() {
    String add = field.wording().add();
    return add.isEmpty()
        ? words.word("page.row.more", Map.of("label", new Value.Text(label())))
        : add;
  }

  /** True if the form takes no more rows. */
  boolean isFull() {
    return field.limits().count().max().filter(max -> rows.size() >= max).isPresent();
  }

  /** True if it takes files. */
  boolean isFile() {
    return editable && field.control() == Control.FILE;
  }

  /** True if it may have several files. */
  boolean many() {
    return field.takesFiles();
  }

  /** True if it has files already. */
  boolean hasFiles() {
    return !files.isEmpty();
  }

  /** What a browser offers to choose from. */
  String accept() {
    return String.join(",", field.limits().accept());
  }

  boolean isTextarea() {
    return editable && field.control() == Control.TEXTAREA;
  }

  boolean isSelect() {
    return editable && (field.control() == Control.SELECT || isSearch());
  }

  boolean isRadio() {
    return editable && field.control() == Control.RADIO;
  }

  boolean isCheckbox() {
    return editable && (field.control() == Control.CHECKBOX || isSwitch());
  }

  boolean isCheckboxes() {
    return editable && field.control() == Control.CHECKBOXES;
  }

  boolean isInput() {
    return !isOutput()
        && !isSet()
        && !isFile()
        && !isTextarea()
        && !isSelect()
        && !isRadio()
        && !isCheckbox()
        && !isCheckboxes();
  }

  /** A text that no date control could show comes back in a text input, as it was typed. */
  String inputType() {
    boolean unread = value instanceof Value.Unread;
    return switch (field.control()) {
      case EMAIL -> "email";
      case URL -> field.tidying().scheme() ? "text" : "url";
      case PHONE -> "tel";
      case SECRET -> "password";
      case SLIDER -> unread || !isSlider() ? "text" : "range";
      case DATE -> unread ? "text" : "date";
      case TIME -> unread ? "text" : "time";
      case DATETIME -> unread ? "text" : "datetime-local";
      default -> "text";
    };
  }

  /** Times are picked to the minute unless the value has seconds. */
  String step() {
    if (isSlider()) {
      return field
          .limits()
          .step()
          .map(Object::toString)
          .orElse(field.type() == Type.INTEGER ? "1" : "any");
    }
    boolean clock = field.type() == Type.TIME || field.type() == Type.DATETIME;
    return clock && text().length() > 16 || field.type() == Type.TIME && text().length() > 5
        ? "any"
        : "";
  }

  String inputMode() {
    return switch (field.type()) {
      case INTEGER -> "numeric";
      case DECIMAL -> "decimal";
      case URL -> "url";
      default -> "";
    };
  }

  String autocomplete() {
    return switch (field.type()) {
      case EMAIL -> "email";
      case PHONE -> "tel";
      case SECRET -> "new-password";
      default -> "off";
    };
  }

  /** Suggestions beside free text. */
  boolean hasSuggestions() {
    return field.type() == Type.TEXT && !offered.isEmpty();
  }

  /** The ids of what describes the control, in the order in which it is read. */
  String describedBy() {
    List<String> ids = new ArrayList<>();
    if (!help().isEmpty()) {
      ids.add(id() + "-help");
    }
    if (!unit().isEmpty()) {
      ids.add(id() + "-unit");
    }
    if (hasCounter()) {
      ids.add(id() + "-counter");
    }
    ids.add(id() + "-error");
    ids.add(id() + "-state");
    return String.join(" ", ids);
  }

  List<OptionView> options() {
    List<OptionView> views = new ArrayList<>();
    if (hasSuggestions()) {
      offered.forEach(it -> views.add(new OptionView("", it.value(), it.label(), false, false)));
      return views;
    }
    List<String> chosen = value instanceof Value.Chosen(List<String> many) ? many : List.of(text());
    boolean blank = value.isBlank();
    if (isSelect()) {
      views.add(
          new OptionView("", "", word(required() ? "page.choose" : "page.none"), blank, false));
    } else if (isRadio() && optional()) {
      views.add(new OptionView(id() + "-0", "", word("page.no-answer"), blank, false));
    }
    for (Choice option : listed()) {
      views.add(
          view(views.size(), option.value(), option.label(), chosen, !offered.contains(option)));
    }
    // What is no longer offered, or was never, is still shown as what was sent.
    for (String option : blank ? List.<String>of() : chosen) {
      if (views.stream().noneMatch(it -> it.value().equals(option))) {
        String label = field.options().find(option).map(Choice::label).orElse(option);
        views.add(view(views.size(), option, label, chosen, false));
      }
    }
    return views;
  }

  /** What other values rule out just now is there all the same, unseen: the script may show it. */
  private List<Choice> listed() {
    boolean dependsHere = depending() && field.refersTo().isEmpty() && !field.hasOptionsOnService();
    return dependsHere
        ? field.options().choices().stream().filter(Choice::offered).toList()
        : offered;
  }

  private OptionView view(
      int index, String value, String label, List<String> chosen, boolean ruledOut) {
    boolean isChosen = chosen.contains(value);
    return new OptionView(id() + "-" + index, value, label, isChosen, ruledOut && !isChosen);
  }
}
