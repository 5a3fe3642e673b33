package nodley.service.submission;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.line.Claim;
import nodley.core.line.Facts;
import nodley.service.caller.Caller;
import nodley.store.Store;
import nodley.store.StoreException;

/**
 * What the store knows, as far as this caller may know it. A record is looked up once for a
 * judgement, however many rows and options ask for it.
 */
final class StoreFacts implements Facts {

  private final Store store;
  private final Displays displays;
  private final Caller caller;
  private final Map<String, Optional<Display.Found>> found = new HashMap<>();

  StoreFacts(Store store, Displays displays, Caller caller) {
    this.store = store;
    this.displays = displays;
    this.caller = caller;
  }

  @Override
  public Optional<Set<Integer>> taken(Form form, List<Claim> claims, Optional<String> except) {
    try {
      return Optional.of(store.records().taken(form, claims, except));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }

  @Override
  public Optional<Optional<Display.Found>> record(String form, String id) {
    try {
      return Optional.of(
          found.computeIfAbsent(form + " " + id, _ -> displays.record(form, id, caller)));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }
}
