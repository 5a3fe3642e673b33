package nodley.core.form;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a value is, with the controls a person may handle it through; the first one is usual. */
public enum Type {
  TEXT("text", Control.TEXT, Control.TEXTAREA),
  EMAIL("email", Control.EMAIL),
  URL("url", Control.URL),
  PHONE("phone", Control.PHONE),
  SECRET("secret", Control.SECRET),
  INTEGER("integer", Control.NUMBER, Control.SLIDER),
  DECIMAL("decimal", Control.NUMBER, Control.SLIDER),
  BOOLEAN("boolean", Control.CHECKBOX, Control.SWITCH),
  DATE("date", Control.DATE),
  TIME("time", Control.TIME),
  DATETIME("datetime", Control.DATETIME),
  CHOICE("choice", Control.RADIO, Control.SELECT, Control.SEARCH),
  CHOICES("choices", Control.CHECKBOXES),
  FILE("file", Control.FILE),
  RECORD("record", Control.SELECT, Control.SEARCH),
  GROUP("group", Control.GROUP),
  ROWS("rows", Control.ROWS);

  private final String word;
  private final List<Control> controls;

  Type(String word, Control... controls) {
    this.word = word;
    this.controls = List.of(controls);
  }

  /** The name in form files and descriptions. */
  public String word() {
    return word;
  }

  public List<Control> controls() {
    return controls;
  }

  /** True if a value is text that tidying may change: its case, its characters. */
  public boolean isWritten() {
    return this == TEXT || this == EMAIL || this == URL || this == PHONE;
  }

  public boolean isNumber() {
    return this == INTEGER || this == DECIMAL;
  }

  /** True if a value is one thing, with no fields inside. */
  public boolean isScalar() {
    return this != GROUP && this != ROWS;
  }

  public static Optional<Type> of(String word) {
    return Arrays.stream(values()).filter(type -> type.word.equals(word)).findFirst();
  }

  public static List<String> words() {
    return Arrays.stream(values()).map(Type::word).toList();
  }
}
