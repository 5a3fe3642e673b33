package nodley.service.submission;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.sample.Sampler;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.value.Raw;
import nodley.core.value.Values;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.record.Listing;
import org.springframework.stereotype.Component;

/**
 * Makes sample values for a form that refer to records which exist, as far as the caller may see
 * them. Thread-safe.
 */
@Component
public final class Samples {

  /** Maximum number of records of another form to choose from. */
  private static final int RECORDS = 50;

  private final Store store;
  private final Submissions submissions;

  Samples(Store store, Submissions submissions) {
    this.store = store;
    this.submissions = submissions;
  }

  /** Returns a maker of made-up values, which are the same for the same seed. */
  public Sampler of(Form form, Caller caller, long seed) {
    return new Sampler(
        form,
        submissions.context(caller, Optional.empty()),
        submissions.lookups(caller),
        other -> ids(other, caller),
        seed);
  }

  /** The values of one record, which others may not have where they are unique. */
  public Optional<Values> kept(Form form, Caller caller) {
    return records(form.name(), caller).stream().findFirst().map(StoredRecord::values);
  }

  /** A record of a form that need not be published; blank where nothing is found for it. */
  public StoredRecord madeUp(Form form, Caller caller) {
    Context context = submissions.context(caller, Optional.empty());
    Map<String, Raw> values =
        new Sampler(form, context, Lookups.NONE, other -> ids(other, caller), 1)
            .right()
            .values()
            .orElse(Map.of());
    Input input = new Input(values, Input.Encoding.JSON);
    return StoredRecord.madeUp(Submission.check(form, input, context, Lookups.NONE).values());
  }

  private List<String> ids(String form, Caller caller) {
    return records(form, caller).stream().map(StoredRecord::id).toList();
  }

  private List<StoredRecord> records(String name, Caller caller) {
    return store
        .forms()
        .find(name)
        .filter(it -> Authorization.maySeeSome(caller, it.form()))
        .map(
            it ->
                store
                    .records()
                    .list(
                        it.form(),
                        Listing.newest("", RECORDS)
                            .ownedBy(Authorization.visibleOwner(caller, it.form())))
                    .records())
        .orElse(List.of());
  }
}
