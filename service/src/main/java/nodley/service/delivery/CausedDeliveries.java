package nodley.service.delivery;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Confirmation;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import nodley.core.submission.Context;
import nodley.core.submission.DeliveryRules;
import nodley.core.submission.Lookups;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.limits.OutwardSettings;
import nodley.service.problem.Json;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Caused;
import nodley.store.delivery.Deliveries;
import nodley.store.delivery.Outgoing;
import org.springframework.stereotype.Component;

/**
 * Makes the deliveries that a change of a record causes, for its transaction. What is told of a
 * record is what it holds then, but for secrets. Thread-safe.
 */
@Component
public final class CausedDeliveries {

  private final Deliveries deliveries;
  private final Clock clock;

  CausedDeliveries(Store store, Clock clock) {
    this.clock = clock;
    this.deliveries = store.deliveries();
  }

  /**
   * Returns what makes the deliveries of a record.
   *
   * @param form with all its fields, in the language of whoever sends
   * @param values of the record after the change; before it, where it is removed
   * @param attempt the id of the attempt; empty for none
   */
  public Caused of(
      Form form,
      DeliveryRule.Change change,
      Values values,
      Context context,
      Lookups lookups,
      String attempt) {
    List<DeliveryRule> rules = DeliveryRules.of(form, change, values, context, lookups);
    boolean asks = hasNewAddress(form, change, values, context);
    if (rules.isEmpty() && !asks) {
      return Caused.NOTHING;
    }
    return stored -> {
      List<ToldRecord> told =
          rules.stream().map(rule -> new ToldRecord(form, rule, stored)).toList();
      return record -> {
        List<Outgoing> all = new ArrayList<>();
        if (asks) {
          all.add(confirmation(form, record, attempt));
        }
        told.forEach(it -> all.add(outgoing(form, it, change, record, attempt)));
        return all;
      };
    };
  }

  private static boolean hasNewAddress(
      Form form, DeliveryRule.Change change, Values values, Context context) {
    if (form.confirmation().isEmpty()
        || change != DeliveryRule.Change.ADD && change != DeliveryRule.Change.EDIT) {
      return false;
    }
    List<String> at = form.confirmation().get().at();
    Value before = context.edited().map(it -> it.values().at(at)).orElse(Value.BLANK);
    return !values.at(at).isBlank() && !values.at(at).equals(before);
  }

  /**
   * Returns the mail with a link by which an address is confirmed.
   *
   * @param form one with {@code confirm}, in the language of whoever the mail is for
   * @param attempt the id of the attempt that caused it; empty for none
   */
  public Outgoing confirmation(Form form, StoredRecord record, String attempt) {
    Confirmation confirmation = form.confirmation().orElseThrow();
    Instant until = clock.instant().atZone(ZoneOffset.UTC).plus(confirmation.within()).toInstant();
    Map<String, Object> body = new LinkedHashMap<>();
    body.put("form", form.name());
    body.put("id", record.id());
    body.put("language", form.language().toLanguageTag());
    body.put("address", record.values().at(confirmation.at()).toJson());
    body.put("until", until.toString());
    return deliveries.sealed(
        new Outgoing(
            OutwardSettings.CONFIRM,
            form.name(),
            record.id(),
            record.version(),
            "confirmation",
            attempt,
            Json.text(body),
            false,
            Optional.of(until)));
  }

  private Outgoing outgoing(
      Form form, ToldRecord told, DeliveryRule.Change change, StoredRecord record, String attempt) {
    boolean none = form.isKeepingNone();
    // Where a record is removed, the removal is its next version.
    long version = record.version() + (change == DeliveryRule.Change.REMOVE ? 1 : 0);
    return deliveries.sealed(
        new Outgoing(
            told.rule().to(),
            form.name(),
            record.id(),
            version,
            none ? "submission.accepted" : "record." + change.past(),
            attempt,
            told.of(record, version),
            // What a record held that is removed is not to be found here either.
            none || change == DeliveryRule.Change.REMOVE,
            Optional.empty()));
  }
}
