package nodley.service.submission;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.line.Facts;
import nodley.core.value.Value;
import nodley.service.caller.Caller;
import nodley.store.Store;
import nodley.store.StoreException;

/** What the store knows, as far as this caller may know it. */
record StoreFacts(Store store, Displays displays, Caller caller) implements Facts {

  @Override
  public Optional<Set<String>> taken(
      Form form, Map<String, Value> values, Optional<String> except) {
    try {
      return Optional.of(store.records().taken(form, values, except));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }

  @Override
  public Optional<Optional<Display.Found>> record(String form, String id) {
    try {
      return Optional.of(displays.record(form, id, caller));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }
}
