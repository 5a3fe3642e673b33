package nodley.store.form;

import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import nodley.core.form.Access;
import nodley.core.form.Form;

/**
 * A form as different callers have it: one variant for all to whom the same is given, in each
 * language. Thread-safe.
 */
final class FormVariants {

  /** How many are kept; beyond, all are made anew. */
  private static final int MOST = 500;

  private final IdentityHashMap<Form, Map<List<Boolean>, Form>> byRights = new IdentityHashMap<>();
  private final IdentityHashMap<Form, Boolean> all = new IdentityHashMap<>();

  /** Returns the variant of a form for a caller. */
  synchronized Form of(Form whole, Predicate<Access.Who> given) {
    List<Boolean> rights = whole.fieldRights().stream().map(given::test).toList();
    if (!rights.contains(false)) {
      return whole;
    }
    if (all.size() >= MOST) {
      byRights.clear();
      all.clear();
    }
    return byRights
        .computeIfAbsent(whole, _ -> new HashMap<>())
        .computeIfAbsent(
            rights,
            _ -> {
              Form variant = whole.seenBy(given);
              all.put(variant, true);
              return variant;
            });
  }

  /** True if a form is one of these. */
  synchronized boolean has(Form form) {
    return all.containsKey(form);
  }
}
