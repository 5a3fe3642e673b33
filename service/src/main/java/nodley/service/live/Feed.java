package nodley.service.live;

import java.util.List;
import java.util.Optional;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Predicate;

/** Tells things to those who watch. One who is too slow misses some, and is told how many. */
public final class Feed<T> {

  /** Things that wait for one watcher. */
  private static final int WAITING = 1_000;

  private final int most;
  private final List<Watcher> watchers = new CopyOnWriteArrayList<>();
  private volatile boolean ended;

  /**
   * A feed without watchers.
   *
   * @param most so many may watch at a time
   */
  Feed(int most) {
    this.most = most;
  }

  /** Somebody who watches, until it is closed. */
  public final class Watcher implements AutoCloseable {

    private final Predicate<T> wanted;
    private final BlockingQueue<Optional<T>> waiting = new ArrayBlockingQueue<>(WAITING);
    private final AtomicLong missed = new AtomicLong();

    private Watcher(Predicate<T> wanted) {
      this.wanted = wanted;
    }

    /** The next thing; nothing if none came in this time, or none will. */
    public Optional<T> next(long millis) throws InterruptedException {
      Optional<T> next = waiting.poll(millis, TimeUnit.MILLISECONDS);
      return next == null ? Optional.empty() : next;
    }

    /** How many did not find room since this was last asked. */
    public long missed() {
      return missed.getAndSet(0);
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

  /** Watches what is wanted; nothing if too many do. */
  public Optional<Watcher> watch(Predicate<T> wanted) {
    if (watchers.size() >= most) {
      return Optional.empty();
    }
    var watcher = new Watcher(wanted);
    watchers.add(watcher);
    return Optional.of(watcher);
  }

  public boolean isWatched() {
    return !watchers.isEmpty();
  }

  public void tell(T thing) {
    for (Watcher watcher : watchers) {
      if (watcher.wanted.test(thing) && !watcher.waiting.offer(Optional.of(thing))) {
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
