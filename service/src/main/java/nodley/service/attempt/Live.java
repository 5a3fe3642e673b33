package nodley.service.attempt;

import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Predicate;
import nodley.store.Attempt;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Tells attempts to those who watch. One who is too slow misses some, and is told how many. */
@Component
public final class Live {

  /** Attempts that wait for one watcher. */
  private static final int WAITING = 1_000;

  /** Wakes those who wait for the next one. It is about nothing, and nobody is told of it. */
  private static final Attempt LAST = new Attempt("", "", 0, "", 0, 0, 0, "", "", "", "", "");

  private final List<Watcher> watchers = new CopyOnWriteArrayList<>();
  private volatile boolean ended;

  /** Somebody who watches, until it is closed. */
  public final class Watcher implements AutoCloseable {

    private final Predicate<Attempt> wanted;
    private final BlockingQueue<Attempt> waiting = new ArrayBlockingQueue<>(WAITING);
    private final AtomicLong missed = new AtomicLong();

    private Watcher(Predicate<Attempt> wanted) {
      this.wanted = wanted;
    }

    /** The next attempt, or null if none came in this time. */
    public Attempt next(long millis) throws InterruptedException {
      return waiting.poll(millis, TimeUnit.MILLISECONDS);
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

  public Watcher watch(Predicate<Attempt> wanted) {
    var watcher = new Watcher(wanted);
    watchers.add(watcher);
    return watcher;
  }

  public int watchers() {
    return watchers.size();
  }

  void tell(Attempt attempt) {
    for (Watcher watcher : watchers) {
      if (watcher.wanted.test(attempt) && !watcher.waiting.offer(attempt)) {
        watcher.missed.incrementAndGet();
      }
    }
  }

  /** Lets all watchers go: the service is about to end, and waits for open requests. */
  @EventListener(ContextClosedEvent.class)
  public void end() {
    ended = true;
    watchers.forEach(watcher -> watcher.waiting.offer(LAST));
  }
}
