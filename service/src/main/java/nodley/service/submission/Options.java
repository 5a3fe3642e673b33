package nodley.service.submission;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Choice;
import nodley.core.form.Display;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.SourceOptions;
import nodley.core.input.Input;
import nodley.core.submission.Offer;
import nodley.core.value.Raw;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.source.SourceDatabases;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.record.Listing;
import org.springframework.stereotype.Component;

/**
 * The options that a field offers a caller: those of a choice, or records of another form that the
 * caller may see. Reads the store for records; at most as many as a page shows. Thread-safe.
 */
@Component
public final class Options {

  /** A reference offers at most this many records at once, and so does what is looked for. */
  public static final int MAX = 500;

  private final Store store;
  private final Submissions submissions;
  private final Displays displays;
  private final SourceDatabases sources;

  Options(Store store, Submissions submissions, Displays displays, SourceDatabases sources) {
    this.sources = sources;
    this.store = store;
    this.submissions = submissions;
    this.displays = displays;
  }

  /**
   * The options whose label contains the words, whatever their case; those that begin with them
   * first.
   *
   * @param values of other fields, by which options may be offered or not
   */
  public List<Choice> of(
      Form form,
      Form.Placed placed,
      String words,
      Map<String, Raw> values,
      Optional<StoredRecord> record,
      Caller caller) {
    Offer offer =
        submissions.offer(
            form, placed.path(), new Input(values, Input.Encoding.FORM), record, caller);
    Field field = placed.field();
    if (field.refersTo().isPresent()) {
      return records(field.refersTo().get(), words, offer, caller);
    }
    Optional<SourceOptions> source = field.options().source();
    if (source.isPresent()) {
      return sources.search(source.get(), words, choice -> offer.includes(choice.marks()), MAX);
    }
    int most = field.hasOptionsOnService() ? MAX : Integer.MAX_VALUE;
    return field.options().search(words, offer::includes, most);
  }

  private List<StoredRecord> records(Form form, String words, Caller caller) {
    Listing newest = Listing.newest(words, MAX);
    return store
        .records()
        .list(form, newest.ownedBy(Authorization.visibleOwner(caller, form)))
        .records();
  }

  private List<Choice> records(String name, String words, Offer offer, Caller caller) {
    Display display = displays.of(caller);
    Optional<Form> form =
        store
            .forms()
            .find(name)
            .map(it -> Authorization.seen(it, caller).form())
            .filter(other -> Authorization.maySeeSome(caller, other));
    return form.stream()
        .flatMap(
            other ->
                records(other, words, caller).stream()
                    .filter(it -> offer.includes(it.values()))
                    .map(it -> new Choice(it.id(), other.called(it.values(), display))))
        .sorted(Comparator.comparing(Choice::label))
        .toList();
  }
}
