package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.Unreadable;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/**
 * Initial values from the query of a page, {@code /new?name=Grey%20Heron}: only of fields with
 * {@code prefill: true}. Other parameters are ignored.
 */
final class Prefill {

  private Prefill() {}

  /**
   * What is typed when the page opens.
   *
   * @param read reads values as they come in form encoding
   */
  static Input of(Form form, HttpServletRequest request, Function<Input, Values> read) {
    Map<String, Raw> asked = asked(form.fields(), query(request));
    if (asked.isEmpty()) {
      return new Input(Map.of(), Input.Encoding.JSON);
    }
    // Read as form encoding, filled in as JSON: what is absent in JSON gets its default.
    Raw.Members values = Raw.of(read.apply(new Input(asked, Input.Encoding.FORM)));
    return new Input(only(values, asked), Input.Encoding.JSON);
  }

  private static Map<String, Raw> query(HttpServletRequest request) {
    String query = request.getQueryString();
    if (query == null) {
      return Map.of();
    }
    try {
      return FormInput.read(query.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT).members();
    } catch (Unreadable e) {
      return Map.of();
    }
  }

  private static Map<String, Raw> asked(Fields fields, Map<String, Raw> given) {
    Map<String, Raw> asked = new LinkedHashMap<>();
    for (Field field : fields) {
      Raw raw = given.get(field.name());
      if (raw instanceof Raw.Members(Map<String, Raw> inside) && field.type() == Type.GROUP) {
        Map<String, Raw> inner = asked(field.fields(), inside);
        if (!inner.isEmpty()) {
          asked.put(field.name(), new Raw.Members(inner));
        }
      } else if (raw != null && field.source().prefill()) {
        asked.put(field.name(), raw);
      }
    }
    return asked;
  }

  private static Map<String, Raw> only(Raw.Members values, Map<String, Raw> asked) {
    Map<String, Raw> only = new LinkedHashMap<>();
    asked.forEach(
        (name, raw) -> {
          Raw value = values.members().get(name);
          if (value instanceof Raw.Members group && raw instanceof Raw.Members(var inside)) {
            only.put(name, new Raw.Members(only(group, inside)));
          } else if (value != null) {
            only.put(name, value);
          }
        });
    return only;
  }
}
