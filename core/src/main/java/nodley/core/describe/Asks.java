package nodley.core.describe;

import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Ask;
import nodley.core.form.Field;
import nodley.core.form.Form;

/**
 * Describes for the page whom a field asks, or whose table is looked into, while the form is filled
 * in: which other fields are sent along, so that it asks again when they change.
 */
final class Asks {

  private final IdentityHashMap<Field, Ask> byField = new IdentityHashMap<>();
  private final Form form;

  Asks(Form form) {
    this.form = form;
    for (Ask ask : form.asks()) {
      ask.at().flatMap(form.fields()::find).ifPresent(field -> byField.put(field, ask));
    }
  }

  boolean isAt(Field field) {
    return byField.containsKey(field) || field.exists().isPresent();
  }

  void describe(Field field, Map<String, Object> json) {
    Ask ask = byField.get(field);
    if (ask == null) {
      if (field.exists().isPresent()) {
        json.put("ask", Map.of());
      }
      return;
    }
    List<String> others =
        ask
            .sends()
            .orElseGet(() -> form.fields().columns().stream().map(Form.Placed::path).toList())
            .stream()
            .filter(path -> !path.equals(ask.at().orElseThrow()) && form.fields().isOnPages(path))
            .map(path -> String.join(".", path))
            .toList();
    Map<String, Object> told = new LinkedHashMap<>();
    if (!others.isEmpty()) {
      told.put("reads", others);
    }
    if (!ask.early()) {
      told.put("early", false);
    }
    json.put("ask", told);
  }
}
