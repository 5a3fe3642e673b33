package nodley.core.line;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/** Brings what an expression comes to into a field: its digits, its tidying. */
final class Fitting {

  private static final MathContext KEPT =
      new MathContext(Numbers.MAX_DIGITS, RoundingMode.HALF_EVEN);

  private Fitting() {}

  /** The value as the field keeps it; unread if it is beyond what the field can hold. */
  static Value to(Field field, Value value) {
    if (value instanceof Value.Number(BigDecimal number)) {
      BigDecimal rounded = field.type() == Type.DECIMAL ? number.round(KEPT) : number;
      return Reading.fits(field.type(), rounded)
          ? new Value.Number(rounded)
          : new Value.Unread(new Raw.Number(number));
    }
    return Tidy.of(field, value);
  }
}
