package nodley.service.delivery;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import nodley.core.submission.PickedValues;
import nodley.core.value.Values;
import nodley.service.problem.Json;
import nodley.service.upload.FileLinks;
import nodley.store.common.StoredRecord;

/**
 * What an outlet is told of a record, as JSON. The values are written before the record is, unless
 * they name it, as links to its files do: while one record is written others wait. Immutable.
 */
final class ToldRecord {

  private final Form form;
  private final DeliveryRule rule;
  private final Optional<String> prepared;

  ToldRecord(Form form, DeliveryRule rule, Values stored) {
    this.form = form;
    this.rule = rule;
    this.prepared = form.fields().hasFiles() ? Optional.empty() : Optional.of(values("", stored));
  }

  DeliveryRule rule() {
    return rule;
  }

  /**
   * Returns what is told of the record, which holds the values that this was made for.
   *
   * @param version that the change made
   */
  String of(StoredRecord record, long version) {
    StringBuilder json = new StringBuilder(1_000);
    json.append("{\"form\":\"").append(form.name()).append('"');
    add(json, "id", record.id());
    if (!form.isKeepingNone()) {
      json.append(",\"version\":").append(version);
    }
    add(json, "createdAt", record.createdAt());
    add(json, "updatedAt", record.updatedAt());
    if (!record.confirmedAt().isEmpty()) {
      add(json, "confirmedAt", record.confirmedAt());
    }
    String values = prepared.orElseGet(() -> values(record.id(), record.values()));
    // They are an object as well, whose brace a comma replaces.
    return json.append(',').append(values, 1, values.length()).toString();
  }

  /** Adds a member. Names of forms, ids and times need no escaping. */
  private static void add(StringBuilder json, String name, String value) {
    json.append(",\"").append(name).append("\":\"").append(value).append('"');
  }

  private String values(String record, Values values) {
    Values known = form.fields().known(values);
    Map<String, Object> told = new LinkedHashMap<>();
    told.put("language", form.language().toLanguageTag());
    told.put(
        "values",
        rule.values().isPresent()
            ? PickedValues.of(FileLinks.tree(form, record, known), rule.values().get())
            : FileLinks.json(form, record, known));
    return Json.text(told);
  }
}
