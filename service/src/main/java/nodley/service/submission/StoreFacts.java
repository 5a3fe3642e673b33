package nodley.service.submission;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.line.Facts;
import nodley.core.value.Value;
import nodley.service.caller.Caller;
import nodley.service.caller.Gate;
import nodley.store.PublishedForm;
import nodley.store.Store;
import nodley.store.StoreException;

/** What the store knows, as far as this caller may know it. */
record StoreFacts(Store store, Caller caller) implements Facts {

  @Override
  public Optional<Set<String>> taken(
      Form form, Map<String, Value> values, Optional<String> except) {
    try {
      return Optional.of(store.records().taken(form, values, except));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }

  /** A record that the caller may not see is as good as none: its being there is not told. */
  @Override
  public Optional<Boolean> exists(String form, String record) {
    try {
      Optional<PublishedForm> other = store.forms().find(form);
      return Optional.of(
          other.isPresent()
              && Gate.maySee(caller, other.get().form())
              && store.records().exists(other.get().form(), record));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }
}
