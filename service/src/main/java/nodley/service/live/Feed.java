package nodley.service.live;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Predicate;
import nodley.service.limits.Limits;

/**
 * Broadcasts events to subscribers. A subscriber that is too slow misses some, and is told how
 * many. The latest events are remembered while the process lives, so that one that reconnects
 * continues where it was. Thread-safe.
 */
public final class Feed<T> {

  /** Events that are queued for one watcher. */
  private static final int WAITING = 1_000;

  /** So many events are kept for clients that connect again. */
  private static final int REMEMBERED = 1_000;

  /** Ids of another process must not be taken for this one's. */
  private final String process = Long.toHexString(ThreadLocalRandom.current().nextLong());

  private final Deque<Told<T>> latest = new ArrayDeque<>();
  private long last;
  private final Limits.Watchers limits;
  private final List<Watcher> watchers = new CopyOnWriteArrayList<>();
  private volatile boolean ended;

  /**
   * A feed without watchers.
   *
   * @param limits how many may watch at a time
   */
  Feed(Limits.Watchers limits) {
    this.limits = limits;
  }

  /**
   * One thing that was told.
   *
   * @param id what who watches may name to go on after it
   */
  public record Told<T>(String id, T thing) {}

  /**
   * Who watches.
   *
   * @param address of a stranger; empty for a known caller, who has places apart
   * @param form what is watched; empty if that is more than one form
   */
  public record From(String address, String form) {}

  /** Somebody who watches, until it is closed. */
  public final class Watcher implements AutoCloseable {

    private final Predicate<T> wanted;
    private final From from;
    private final BlockingQueue<Optional<Told<T>>> waiting = new ArrayBlockingQueue<>(WAITING);
    private final AtomicLong missed = new AtomicLong();
    private boolean cutOff;

    private Watcher(Predicate<T> wanted, From from) {
      this.wanted = wanted;
      this.from = from;
    }

    /** The next thing; nothing if none came in this time, or none will. */
    public Optional<Told<T>> next(long millis) throws InterruptedException {
      Optional<Told<T>> next = waiting.poll(millis, TimeUnit.MILLISECONDS);
      return next == null ? Optional.empty() : next;
    }

    /** How many did not find room since this was last asked. */
    public long missed() {
      return missed.getAndSet(0);
    }

    /** True if what came after the id it named is not remembered: it must look anew. */
    public boolean isCutOff() {
      return cutOff;
    }

    /** True once nothing more will come. */
    public boolean isOver() {
      return ended;
    }

    @Override
    public void close() {
      watchers.remove(this);
    }
  }

  /**
   * Watches what is wanted; nothing if too many do in all, on one form or from one address.
   *
   * @param after the id of the last thing that was heard, from where to go on; empty for from now
   *     on
   */
  public synchronized Optional<Watcher> watch(
      Predicate<T> wanted, From from, Optional<String> after) {
    if (isFull(from)) {
      return Optional.empty();
    }
    var watcher = new Watcher(wanted, from);
    after.ifPresent(id -> catchUp(watcher, id));
    watchers.add(watcher);
    return Optional.of(watcher);
  }

  private boolean isFull(From from) {
    if (from.address().isEmpty()) {
      return count(it -> it.address().isEmpty()) >= limits.total();
    }
    return count(it -> !it.address().isEmpty()) >= limits.total()
        || count(it -> it.address().equals(from.address())) >= limits.perAddress()
        || !from.form().isEmpty()
            && count(it -> !it.address().isEmpty() && it.form().equals(from.form()))
                >= limits.perForm();
  }

  private long count(Predicate<From> which) {
    return watchers.stream().filter(it -> which.test(it.from)).count();
  }

  private void catchUp(Watcher watcher, String id) {
    if (id.equals(id(last))) {
      return;
    }
    boolean known = false;
    for (Told<T> told : latest) {
      if (known && watcher.wanted.test(told.thing())) {
        watcher.waiting.offer(Optional.of(told));
      }
      known |= told.id().equals(id);
    }
    watcher.cutOff = !known;
  }

  private String id(long number) {
    return process + "-" + number;
  }

  /** True if anybody watches, so that an event is worth making. */
  public boolean isWatched() {
    return !watchers.isEmpty();
  }

  /** Sends an event to everybody who watches. Does not wait for slow readers. */
  public synchronized void tell(T thing) {
    Told<T> told = new Told<>(id(++last), thing);
    latest.add(told);
    if (latest.size() > REMEMBERED) {
      latest.remove();
    }
    for (Watcher watcher : watchers) {
      if (watcher.wanted.test(thing) && !watcher.waiting.offer(Optional.of(told))) {
        watcher.missed.incrementAndGet();
      }
    }
  }

  /** Lets all watchers go: the service is about to end, and waits for open requests. */
  void end() {
    ended = true;
    watchers.forEach(watcher -> watcher.waiting.offer(Optional.empty()));
  }
}
