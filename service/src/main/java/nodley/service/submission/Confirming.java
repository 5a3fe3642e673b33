package nodley.service.submission;

import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import nodley.service.caller.Caller;
import nodley.service.delivery.CausedDeliveries;
import nodley.service.live.Change;
import nodley.service.live.Feed;
import nodley.store.Store;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Confirmations;
import nodley.store.form.PublishedForm;
import org.springframework.stereotype.Component;

/** Confirms the addresses of records, for whoever has the link that was mailed. Thread-safe. */
@Component
public final class Confirming {

  private final Store store;
  private final Submissions submissions;
  private final CausedDeliveries deliveries;
  private final Feed<Change> changes;
  private final Clock clock;

  Confirming(
      Store store,
      Submissions submissions,
      CausedDeliveries deliveries,
      Feed<Change> changes,
      Clock clock) {
    this.clock = clock;
    this.store = store;
    this.submissions = submissions;
    this.deliveries = deliveries;
    this.changes = changes;
  }

  /**
   * Confirms an address.
   *
   * @return false if the link is not good now
   */
  public boolean confirm(Confirmations.Link link, List<Locale> languages) {
    PublishedForm published = store.forms().find(link.form()).orElse(null);
    if (published == null) {
      return false;
    }
    Form form = published.in(languages).form();
    Optional<StoredRecord> record = store.records().find(form, link.record());
    if (record.isEmpty()) {
      return false;
    }
    Optional<StoredRecord> confirmed =
        store
            .records()
            .addresses()
            .confirm(
                published,
                link.code(),
                clock.instant(),
                deliveries.of(
                    form,
                    DeliveryRule.Change.CONFIRM,
                    record.get().values(),
                    submissions.context(Caller.Known.SERVICE, record),
                    submissions.lookups(Caller.Known.SERVICE),
                    ""));
    confirmed.ifPresent(
        it -> changes.tell(new Change(form.name(), it.id(), it.version(), it.owner())));
    return confirmed.isPresent();
  }

  /**
   * Mails another link in place of one that has ended.
   *
   * @return false if it is not the latest of its record, or the form asks for none any more
   */
  public boolean askAgain(Confirmations.Link link, List<Locale> languages) {
    PublishedForm published = store.forms().find(link.form()).orElse(null);
    if (published == null || published.form().confirmation().isEmpty()) {
      return false;
    }
    Form form = published.in(languages).form();
    return store
        .records()
        .addresses()
        .askAgain(
            published,
            link.code(),
            _ -> record -> List.of(deliveries.confirmation(form, record, "")));
  }
}
