package nodley.core.form;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * The types of fields, each with the controls that it can have, the usual one first. A type decides
 * how a value is read, tidied, limited and stored; the words are those of form files and of
 * descriptions, and do not change.
 */
public enum Type {
  TEXT("text", Control.TEXT, Control.TEXTAREA, Control.NONE),
  EMAIL("email", Control.EMAIL, Control.NONE),
  URL("url", Control.URL, Control.NONE),
  PHONE("phone", Control.PHONE, Control.NONE),
  SECRET("secret", Control.SECRET),
  INTEGER("integer", Control.NUMBER, Control.SLIDER, Control.NONE),
  DECIMAL("decimal", Control.NUMBER, Control.SLIDER, Control.NONE),
  BOOLEAN("boolean", Control.CHECKBOX, Control.SWITCH, Control.NONE),
  DATE("date", Control.DATE, Control.NONE),
  TIME("time", Control.TIME, Control.NONE),
  DATETIME("datetime", Control.DATETIME, Control.NONE),
  CHOICE("choice", Control.RADIO, Control.SELECT, Control.SEARCH, Control.NONE),
  CHOICES("choices", Control.CHECKBOXES, Control.NONE),
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

  /** Returns the controls that a field of the type may have, the usual one first. */
  public List<Control> controls() {
    return controls;
  }

  /** True if a value is text that tidying may change: its case, its characters. */
  public boolean isWritten() {
    return this == TEXT || this == EMAIL || this == URL || this == PHONE;
  }

  /** True for integers and decimals. */
  public boolean isNumber() {
    return this == INTEGER || this == DECIMAL;
  }

  /** True if a value is one thing, with no fields inside. */
  public boolean isScalar() {
    return this != GROUP && this != ROWS;
  }

  /** Returns the type of a name; empty if there is none. */
  public static Optional<Type> of(String word) {
    return Arrays.stream(values()).filter(type -> type.word.equals(word)).findFirst();
  }

  /** Returns the names of all types. */
  public static List<String> words() {
    return Arrays.stream(values()).map(Type::word).toList();
  }
}
