package nodley.service.retention;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import nodley.core.form.Confirmation;
import nodley.service.limits.Limits;
import nodley.service.live.Change;
import nodley.service.live.Feed;
import nodley.store.Store;
import nodley.store.access.OperatorLog;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.OldRecords;
import nodley.store.record.RemovedRecords;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.annotation.Configuration;
import org.springframework.scheduling.annotation.EnableScheduling;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Removes records that are older than their form keeps them ({@code keep-for}), and those whose
 * address nobody has confirmed in time, some at a time, so that submissions go on. Those that
 * others refer to stay until those are gone.
 */
@Component
class RecordSweep {

  private static final int AT_A_TIME = 50;

  private static final int SECONDS = 5;

  private static final Logger LOG = LoggerFactory.getLogger(RecordSweep.class);

  private final Store store;
  private final OldRecords old;
  private final RemovedRecords removed;
  private final Duration kept;
  private final OperatorLog log;
  private final Feed<Change> changes;
  private final Clock clock;
  private final OnceAMinute failures = new OnceAMinute();

  RecordSweep(Store store, Feed<Change> changes, Clock clock, Limits limits) {
    this.removed = store.records().removed();
    this.kept = limits.removed().kept();
    this.store = store;
    this.old = store.records().old();
    this.log = store.operatorLog();
    this.changes = changes;
    this.clock = clock;
  }

  /** Has methods called at intervals. */
  @Configuration
  @EnableScheduling
  static class Timer {}

  /** Looks for old records of all forms, and for those that were removed long ago. */
  @Scheduled(fixedDelay = SECONDS, timeUnit = TimeUnit.SECONDS)
  void sweep() {
    forgetRemoved();
    for (PublishedForm form : store.forms().all()) {
      // Most say nothing of it, and a form is read only once it is asked for.
      if (form.text().contains("keep-for") || form.text().contains("confirm")) {
        sweepOrSay(form);
      }
    }
  }

  private void forgetRemoved() {
    try {
      Instant end = clock.instant().minus(kept);
      int some;
      do {
        some = removed.forgetRemovedBefore(end, AT_A_TIME);
      } while (some == AT_A_TIME);
    } catch (StoreException e) {
      if (failures.isDue()) {
        LOG.warn("Removed records cannot be forgotten now: {}", e.getMessage());
      }
    }
  }

  private void sweepOrSay(PublishedForm form) {
    try {
      Optional<Instant> oldest = form.form().retention().oldest(clock.instant());
      if (oldest.isPresent()) {
        sweep(form, oldest.get());
      }
      if (form.form().confirmation().filter(Confirmation::remove).isPresent()) {
        sweepUnconfirmed(form);
      }
    } catch (StoreException e) {
      if (failures.isDue()) {
        LOG.warn("Old records of {} cannot be removed now: {}", form.name(), e.getMessage());
      }
    }
  }

  private void sweepUnconfirmed(PublishedForm form) {
    int count = 0;
    List<StoredRecord> some;
    do {
      some = old.removeUnconfirmed(form, clock.instant(), AT_A_TIME);
      count += some.size();
      some.forEach(it -> changes.tell(new Change(form.name(), it.id(), 0, it.owner())));
    } while (some.size() == AT_A_TIME);
    if (count > 0) {
      LOG.info(
          "{} records of {} had an address that nobody confirmed in time, and are removed.",
          count,
          form.name());
      log.addLater("", "remove-unconfirmed", "forms/" + form.name(), "");
    }
  }

  private void sweep(PublishedForm form, Instant oldest) {
    while (removed.forgetAddedBefore(form.form(), oldest, AT_A_TIME) == AT_A_TIME) {
      // There are more.
    }
    int count = 0;
    Optional<String> after = Optional.of("");
    while (after.isPresent()) {
      OldRecords.Swept swept = old.remove(form, oldest, after.get(), AT_A_TIME);
      count += swept.removed().size();
      swept.removed().forEach(it -> changes.tell(new Change(form.name(), it.id(), 0, it.owner())));
      after = swept.last();
    }
    if (count > 0) {
      LOG.info(
          "{} records of {} were as old as it keeps them, and are removed.", count, form.name());
      log.addLater("", "remove-by-age", "forms/" + form.name(), "");
    }
  }
}
