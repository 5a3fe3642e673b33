package nodley.core.expression;

import java.util.Optional;

/** An error in an expression: what is wrong, and at which offset. */
public final class BadExpression extends Exception {

  private static final long serialVersionUID = 1;

  private final int offset;
  private final boolean unknownName;
  private final String suggestion;

  BadExpression(int offset, String message) {
    this(offset, message, false, null);
  }

  private BadExpression(int offset, String message, boolean unknownName, String suggestion) {
    super(message);
    this.offset = offset;
    this.unknownName = unknownName;
    this.suggestion = suggestion;
  }

  static BadExpression unknown(int offset, String message, Optional<String> near) {
    return new BadExpression(
        offset,
        message + near.map(name -> " Did you mean `" + name + "`?").orElse(""),
        true,
        near.orElse(null));
  }

  /** Where it goes wrong, in UTF-16 units from the start of the expression. */
  public int offset() {
    return offset;
  }

  /** True if it names something that is not there. */
  public boolean isUnknownName() {
    return unknownName;
  }

  /** Returns what was probably meant; empty if nothing is near. */
  public Optional<String> suggestion() {
    return Optional.ofNullable(suggestion);
  }
}
