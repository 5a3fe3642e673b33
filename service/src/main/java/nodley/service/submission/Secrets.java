package nodley.service.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.crypto.password.Pbkdf2PasswordEncoder;

/** Makes digests of secrets before anything is kept: PBKDF2 (RFC 8018) with SHA-256, salted. */
final class Secrets {

  private static final PasswordEncoder DIGEST =
      Pbkdf2PasswordEncoder.defaultsForSpringSecurity_v5_8();

  private Secrets() {}

  static Values sealed(Fields fields, Values values) {
    Map<String, Value> sealed = new LinkedHashMap<>();
    values
        .byName()
        .forEach(
            (name, value) ->
                sealed.put(name, fields.find(name).map(it -> sealed(it, value)).orElse(value)));
    return new Values(sealed).ofRow(values.row());
  }

  private static Value sealed(Field field, Value value) {
    return switch (value) {
      case Value.Text(String text) when field.isSecret() && field.isKept() ->
          new Value.Text(DIGEST.encode(text));
      case Value.Group(Values inside) -> new Value.Group(sealed(field.fields(), inside));
      case Value.Rows(List<Values> rows) ->
          new Value.Rows(rows.stream().map(row -> sealed(field.fields(), row)).toList());
      default -> value;
    };
  }
}
