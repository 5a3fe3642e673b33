package nodley.core.submission;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/** Converts the value of an expression to that of a field: rounds to its decimals, tidies texts. */
final class Coercion {

  private static final MathContext KEPT =
      new MathContext(Numbers.MAX_DIGITS, RoundingMode.HALF_EVEN);

  private Coercion() {}

  /** Returns the value as the field stores it; unread if the field cannot hold it. */
  static Value to(Field field, Value value) {
    return value instanceof Value.Number number ? number(field, number) : Tidy.of(field, value);
  }

  private static Value number(Field field, Value.Number worked) {
    BigDecimal number = worked.number();
    boolean longer = field.type() == Type.DECIMAL && number.precision() > Numbers.MAX_DIGITS;
    BigDecimal rounded = longer ? number.round(KEPT) : number;
    if (!ValueReader.fits(field.type(), rounded)) {
      return new Value.Unread(new Raw.Number(number));
    }
    return longer ? new Value.Number(rounded) : worked;
  }
}
