package nodley.core.describe;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.expression.Expression;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Unique;

/**
 * Describes uniqueness for the page, at the field that has the error: which other fields take part,
 * so that the page knows when to check and what to send.
 */
final class Uniques {

  private final IdentityHashMap<Field, List<Unique>> byField = new IdentityHashMap<>();

  private final Fields fields;

  Uniques(Form form) {
    fields = form.fields();
    for (Unique unique : form.uniques()) {
      List<String> path = new ArrayList<>(unique.rows());
      path.addAll(unique.at());
      form.fields()
          .find(path)
          .ifPresent(field -> byField.computeIfAbsent(field, _ -> new ArrayList<>()).add(unique));
    }
  }

  boolean isAt(Field field) {
    return byField.containsKey(field);
  }

  void describe(Field field, Map<String, Object> json) {
    List<Unique> uniques = byField.getOrDefault(field, List.of());
    if (uniques.isEmpty()) {
      return;
    }
    List<Map<String, Object>> told = uniques.stream().map(this::told).toList();
    boolean plain = told.stream().allMatch(Map::isEmpty);
    json.put("unique", plain ? true : told);
  }

  private Map<String, Object> told(Unique unique) {
    Map<String, Object> json = new LinkedHashMap<>();
    List<String> others =
        unique.paths().stream()
            .filter(path -> !path.equals(unique.at()) && isOnPages(unique, path))
            .map(path -> String.join(".", path))
            .toList();
    if (!others.isEmpty()) {
      json.put("with", others);
    }
    unique
        .when()
        .filter(when -> !when.isForServer())
        .ifPresent(
            when -> {
              json.put("when", when.toJson());
              json.put("reads", reads(unique, when));
              if (unique.ofForm()) {
                json.put("ofForm", true);
              }
            });
    if (!unique.early()) {
      json.put("early", false);
    }
    if (unique.hold()) {
      json.put("hold", true);
    }
    return json;
  }

  /** What no page has, the service adds when it is asked. */
  private boolean isOnPages(Unique unique, List<String> path) {
    List<String> whole = new ArrayList<>(unique.rows());
    whole.addAll(path);
    return fields.isOnPages(whole);
  }

  /** The dotted paths that the condition reads, from the form or the rows around. */
  private static Set<String> reads(Unique unique, Expression when) {
    List<String> here =
        unique.ofForm() ? List.of() : unique.at().subList(0, unique.at().size() - 1);
    Set<String> reads = new LinkedHashSet<>();
    for (Expression.Read read : when.reads().stream().filter(Expression.Read::onPages).toList()) {
      List<String> path = new ArrayList<>(here.subList(0, Math.max(0, here.size() - read.up())));
      path.addAll(read.names());
      reads.add(String.join(".", path));
    }
    return reads;
  }
}
