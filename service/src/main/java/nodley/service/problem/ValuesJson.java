package nodley.service.problem;

import java.math.BigDecimal;
import java.util.List;
import nodley.core.value.Value;
import nodley.core.value.Values;
import tools.jackson.core.JsonGenerator;
import tools.jackson.databind.SerializationContext;
import tools.jackson.databind.ValueSerializer;

/**
 * Writes the values of a form as {@link Values#toJson} has them, member by member: each reply has
 * some, and a map of them first would take more time than to judge them.
 */
final class ValuesJson extends ValueSerializer<Values> {

  @Override
  public void serialize(Values values, JsonGenerator to, SerializationContext context) {
    to.writeStartObject();
    values.forEachFilled(
        (name, value) -> {
          to.writeName(name);
          write(value, to, context);
        });
    to.writeEndObject();
  }

  private void write(Value value, JsonGenerator to, SerializationContext context) {
    switch (value) {
      case Value.Group(Values inside) -> serialize(inside, to, context);
      case Value.Rows(List<Values> rows) -> {
        to.writeStartArray();
        rows.forEach(row -> serialize(row, to, context));
        to.writeEndArray();
      }
      default -> {
        switch (value.toJson()) {
          case String text -> to.writeString(text);
          case BigDecimal number -> to.writeNumber(number);
          case Object other -> context.writeValue(to, other);
        }
      }
    }
  }
}
