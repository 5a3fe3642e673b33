package nodley.service.submission;

import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.service.caller.Caller;
import nodley.service.caller.Gate;
import nodley.store.PublishedForm;
import nodley.store.Store;
import org.springframework.stereotype.Component;

/** What a field offers: a choice its options, a reference the records that the caller may see. */
@Component
public final class Options {

  /** A reference offers at most this many records at once. */
  public static final int MAX = 500;

  private final Store store;

  Options(Store store) {
    this.store = store;
  }

  /** The options whose label contains the words, whatever their case. */
  public List<Field.Choice> of(Field field, String words, Caller caller) {
    if (field.refersTo().isPresent()) {
      return records(field.refersTo().get(), words, caller);
    }
    String part = words.strip().toLowerCase(Locale.ROOT);
    return field.options().stream()
        .filter(option -> option.label().toLowerCase(Locale.ROOT).contains(part))
        .toList();
  }

  private List<Field.Choice> records(String name, String words, Caller caller) {
    Optional<Form> form =
        store
            .forms()
            .find(name)
            .map(PublishedForm::form)
            .filter(other -> Gate.maySee(caller, other));
    return form.stream()
        .flatMap(
            other ->
                store.records().list(other, words, Optional.empty(), MAX).records().stream()
                    .map(it -> new Field.Choice(it.id(), other.called(it.values()))))
        .sorted(Comparator.comparing(Field.Choice::label))
        .toList();
  }

  /** How the record that a reference points at is called; its id where that cannot be told. */
  public String called(Field field, String id, Caller caller) {
    return field
        .refersTo()
        .flatMap(store.forms()::find)
        .map(PublishedForm::form)
        .filter(form -> Gate.maySee(caller, form))
        .flatMap(form -> store.records().find(form, id).map(it -> form.called(it.values())))
        .orElse(id);
  }
}
