package nodley.service.delivery;

import java.util.Optional;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import nodley.core.submission.PickedValues;
import nodley.core.value.Values;
import nodley.service.problem.Json;
import nodley.service.upload.FileLinks;
import nodley.store.common.StoredRecord;
import tools.jackson.databind.util.RawValue;

/**
 * The values that an outlet is told of a record, as JSON: written before the record is, unless they
 * name it, as links to its files do. Immutable.
 */
final class ToldValues {

  private final Form form;
  private final DeliveryRule rule;
  private final Optional<RawValue> prepared;

  ToldValues(Form form, DeliveryRule rule, Values stored) {
    this.form = form;
    this.rule = rule;
    this.prepared = form.fields().hasFiles() ? Optional.empty() : Optional.of(json("", stored));
  }

  DeliveryRule rule() {
    return rule;
  }

  /** Returns the values of the record, which is to hold those that this was made for. */
  RawValue of(StoredRecord record) {
    return prepared.orElseGet(() -> json(record.id(), record.values()));
  }

  private RawValue json(String record, Values values) {
    Values known = form.fields().known(values);
    Object told =
        rule.values().isPresent()
            ? PickedValues.of(FileLinks.tree(form, record, known), rule.values().get())
            : FileLinks.json(form, record, known);
    return new RawValue(Json.text(told));
  }
}
