package nodley.service.page;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Control;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.value.Value;

/** One field as its template wants it. */
record FieldView(Field field, Value value, String error, List<Field.Choice> offered) {

  /** One option, and whether it is the chosen one. */
  record OptionView(String id, String value, String label, boolean chosen) {}

  String name() {
    return field.name();
  }

  String id() {
    return "f-" + field.name();
  }

  /** What a link to the field leads to: radio buttons have no one control, but a first. */
  String anchor() {
    return isRadio() ? id() + "-0" : id();
  }

  String label() {
    return field.label();
  }

  String help() {
    return field.wording().help();
  }

  String placeholder() {
    return field.wording().placeholder();
  }

  String unit() {
    return field.wording().unit();
  }

  boolean required() {
    return field.required();
  }

  boolean optional() {
    return !field.required() && !isCheckbox();
  }

  boolean wrong() {
    return !error.isEmpty();
  }

  String text() {
    return value.shown();
  }

  boolean ticked() {
    return value instanceof Value.Bool(boolean yes) && yes;
  }

  boolean isTextarea() {
    return field.control() == Control.TEXTAREA;
  }

  boolean isSelect() {
    return field.control() == Control.SELECT;
  }

  boolean isRadio() {
    return field.control() == Control.RADIO;
  }

  boolean isCheckbox() {
    return field.control() == Control.CHECKBOX;
  }

  boolean isInput() {
    return !isTextarea() && !isSelect() && !isRadio() && !isCheckbox();
  }

  /** A text that no date control could show comes back in a text input, as it was typed. */
  String inputType() {
    return switch (field.control()) {
      case EMAIL -> "email";
      case DATE -> value instanceof Value.Unread ? "text" : "date";
      default -> "text";
    };
  }

  String inputMode() {
    return switch (field.type()) {
      case INTEGER -> "numeric";
      case DECIMAL -> "decimal";
      default -> "";
    };
  }

  String autocomplete() {
    return field.type() == Type.EMAIL ? "email" : "off";
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
    ids.add(id() + "-error");
    ids.add(id() + "-state");
    return String.join(" ", ids);
  }

  List<OptionView> options() {
    List<OptionView> views = new ArrayList<>();
    String chosen = text();
    boolean blank = chosen.isEmpty();
    if (isSelect()) {
      views.add(new OptionView("", "", field.required() ? "Choose…" : "None chosen", blank));
    } else if (optional()) {
      views.add(new OptionView(id() + "-0", "", "No answer", blank));
    }
    for (Field.Choice option : offered) {
      views.add(
          new OptionView(
              id() + "-" + views.size(),
              option.value(),
              option.label(),
              option.value().equals(chosen)));
    }
    // What is no longer offered, or was never, is still shown as what was sent.
    Optional<OptionView> known = views.stream().filter(OptionView::chosen).findFirst();
    if (known.isEmpty() && !blank) {
      views.add(new OptionView(id() + "-" + views.size(), chosen, chosen, true));
    }
    return views;
  }
}
