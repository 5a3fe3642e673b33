package nodley.service.delivery;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import nodley.service.limits.OutwardSettings;
import nodley.store.Store;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import nodley.store.delivery.Deliveries;
import nodley.store.delivery.Delivery;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Sends what waits. Each outlet has a queue and a thread of its own, so that a slow or dead one
 * holds up nobody else; of one outlet, some records' deliveries are sent at the same time, and each
 * record's in their order. Submissions come first: while some wait to be written, few deliveries
 * are sent. What has been sent and not been settled when the process ends is sent again.
 */
@Component
final class Dispatcher implements SmartLifecycle {

  private static final Logger LOG = LoggerFactory.getLogger(Dispatcher.class);

  /** So many are sent to one outlet at the same time. */
  private static final int AT_ONCE = 32;

  /** So many while submissions wait to be written: a call costs as much as writing a record. */
  private static final int FEW_AT_ONCE = 8;

  /** Waits grow up to here. */
  private static final Duration LONGEST_WAIT = Duration.ofHours(1);

  /** A queue looks again after so long, whatever happens. */
  private static final Duration LOOK = Duration.ofSeconds(30);

  /** While submissions wait to be written, a queue leaves them the processor for so long. */
  private static final Duration GIVEN_WAY = Duration.ofMillis(100);

  /** Where the store cannot be read or written, nothing is sent for so long. */
  private static final Duration STORE_IS_AWAY = Duration.ofSeconds(5);

  private static final int LONGEST_ANSWER = 300;

  private final Deliveries deliveries;
  private final OutwardSettings.DeliverySettings settings;
  private final Clock clock;
  private final Map<String, Queue> queues = new LinkedHashMap<>();
  private final OnceAMinute failures = new OnceAMinute();
  private volatile boolean running;

  Dispatcher(Store store, Outlets outlets, OutwardSettings settings) {
    this.deliveries = store.deliveries();
    this.settings = settings.deliveries();
    // Deliveries are due by the store's clock.
    this.clock = Clock.systemUTC();
    outlets.names().forEach(name -> queues.put(name, new Queue(name, outlets.find(name).get())));
  }

  @Override
  public void start() {
    running = true;
    deliveries.onNew(
        outlet -> {
          Queue queue = queues.get(outlet);
          if (queue != null) {
            queue.wake();
          }
        });
    queues.values().forEach(Queue::start);
    Set<String> unknown = new TreeSet<>(deliveries.waitedFor());
    unknown.removeAll(queues.keySet());
    unknown.forEach(
        it ->
            LOG.warn(
                "Deliveries wait for the outlet {}, which the settings do not have: set"
                    + " nodley.outlets.{}.url, or they wait for ever.",
                it,
                it));
  }

  /** Ends all queues; a call under way is given up, and made again after the next start. */
  @Override
  public void stop() {
    running = false;
    queues.values().forEach(Queue::stop);
  }

  @Override
  public boolean isRunning() {
    return running;
  }

  /** Removes deliveries that ended long ago. */
  @Scheduled(initialDelay = 1, fixedDelay = 60, timeUnit = TimeUnit.MINUTES)
  void sweep() {
    try {
      deliveries.sweep();
    } catch (StoreException e) {
      LOG.warn("Old deliveries cannot be removed now: {}", e.getMessage());
    }
  }

  /** Returns when a delivery is tried again that has been tried so often; doubled each time. */
  static Duration wait(Duration first, int tries) {
    long factor = 1L << Math.min(tries, 20);
    Duration wait = first.multipliedBy(factor);
    return wait.compareTo(LONGEST_WAIT) > 0 ? LONGEST_WAIT : wait;
  }

  /** The deliveries of one outlet. */
  private final class Queue {
    private final String name;
    private final Outlet outlet;
    private final Semaphore news = new Semaphore(0);
    private final AtomicBoolean isOff = new AtomicBoolean();
    private Thread thread;

    Queue(String name, Outlet outlet) {
      this.name = name;
      this.outlet = outlet;
    }

    void start() {
      thread = Thread.ofVirtual().name("deliveries-" + name).start(this::run);
    }

    void stop() {
      thread.interrupt();
      try {
        thread.join(Duration.ofSeconds(5));
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }

    void wake() {
      news.release();
    }

    private void run() {
      try (ExecutorService senders = Executors.newVirtualThreadPerTaskExecutor()) {
        while (running) {
          news.drainPermits();
          if (send(senders) == 0) {
            news.tryAcquire(untilNext().toMillis(), TimeUnit.MILLISECONDS);
          } else if (deliveries.shouldGiveWay()) {
            Thread.sleep(GIVEN_WAY);
          }
        }
      } catch (InterruptedException e) {
        // The service stops.
      }
    }

    private Duration untilNext() {
      if (isOff.get()) {
        return LOOK;
      }
      try {
        return deliveries
            .nextDue(name)
            .map(it -> Duration.between(clock.instant(), it))
            .filter(it -> it.compareTo(LOOK) < 0)
            .map(it -> it.isPositive() ? it.plusMillis(1) : Duration.ofMillis(10))
            .orElse(LOOK);
      } catch (StoreException e) {
        return LOOK;
      }
    }

    /** Sends those whose turn it is, and returns how many there were. */
    private int send(ExecutorService senders) throws InterruptedException {
      try {
        isOff.set(deliveries.outlets().isOff(name));
        if (isOff.get()) {
          return 0;
        }
        int most = deliveries.shouldGiveWay() ? FEW_AT_ONCE : AT_ONCE;
        List<Deliveries.Due> due = deliveries.due(name, most);
        List<Future<Deliveries.Outcome>> sent = new ArrayList<>();
        for (Deliveries.Due each : due) {
          sent.add(senders.submit(() -> outcome(each)));
        }
        List<Deliveries.Outcome> outcomes = new ArrayList<>();
        for (Future<Deliveries.Outcome> each : sent) {
          outcomes.add(each.get());
        }
        deliveries.settle(outcomes);
        return due.size();
      } catch (StoreException | ExecutionException e) {
        if (running && failures.isDue()) {
          LOG.warn("Deliveries to {} cannot be sent now.", name, e);
        }
        // What was sent and cannot be settled is sent again; not over and over.
        Thread.sleep(STORE_IS_AWAY);
        return 0;
      }
    }

    private Deliveries.Outcome outcome(Deliveries.Due due) {
      Delivery delivery = due.delivery();
      Outlet.Told told =
          due.body()
              .map(it -> tell(delivery, it))
              .orElseGet(() -> new Outlet.Refused("what it tells was encrypted in another folder"));
      String answer = shortened(told.answer());
      return switch (told) {
        case Outlet.Taken _ -> new Deliveries.Outcome.Delivered(delivery, answer);
        case Outlet.Refused _ -> failed(delivery, answer);
        case Outlet.Later(String _, var asked) -> later(delivery, answer, asked);
        case Outlet.Over _ -> {
          if (isOff.compareAndSet(false, true)) {
            LOG.warn(
                "The outlet {} {}: it is switched off, and what is for it waits. nodley outlets on"
                    + " {} switches it on again.",
                name,
                answer,
                name);
            deliveries.outlets().switchOff(name, answer);
          }
          yield later(delivery, answer, Optional.empty());
        }
      };
    }

    /** What nobody thought of holds up no other delivery. */
    private Outlet.Told tell(Delivery delivery, String body) {
      try {
        return outlet.tell(delivery, body);
      } catch (RuntimeException e) {
        LOG.warn("Delivery {} to {} could not be sent.", delivery.id(), name, e);
        return new Outlet.Later("it could not be sent: " + e.getMessage(), Optional.empty());
      }
    }

    private Deliveries.Outcome later(Delivery delivery, String answer, Optional<Duration> asked) {
      Instant now = clock.instant();
      Duration usual = Dispatcher.wait(settings.firstWait(), delivery.tries());
      Duration wait =
          asked
              .map(it -> it.compareTo(settings.giveUp()) > 0 ? settings.giveUp() : it)
              .filter(it -> it.compareTo(usual) > 0)
              .orElse(usual);
      Instant next = now.plus(wait);
      Instant begun = delivery.tries() == 0 ? now : delivery.since();
      if (next.isAfter(begun.plus(settings.giveUp()))) {
        return failed(delivery, answer);
      }
      return new Deliveries.Outcome.Postponed(delivery, answer, next);
    }

    private Deliveries.Outcome failed(Delivery delivery, String answer) {
      LOG.warn(
          "Delivery {} of {} {} to {} has failed after {} tries: {}. nodley deliveries again {}"
              + " sends it again.",
          delivery.id(),
          delivery.form(),
          delivery.record(),
          name,
          delivery.tries() + 1,
          answer,
          delivery.id());
      return new Deliveries.Outcome.Failed(delivery, answer);
    }

    private static String shortened(String answer) {
      return answer.length() <= LONGEST_ANSWER ? answer : answer.substring(0, LONGEST_ANSWER) + "…";
    }
  }
}
