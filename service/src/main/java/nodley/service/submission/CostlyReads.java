package nodley.service.submission;

import java.time.Duration;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Supplier;
import nodley.service.caller.Caller;
import nodley.service.limits.ClientConnection;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import nodley.store.common.StoreException;
import nodley.store.sqlite.ReadBudget;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;
import org.springframework.web.context.request.RequestContextHolder;
import org.springframework.web.context.request.ServletRequestAttributes;

/**
 * Runs reads that may take long (lists, searches, versions) on threads of their own, so that they
 * never block checks and adds; those of strangers apart, so that they never block people who are
 * signed in. Each has a time limit and ends if its client disconnects. A full queue, or a wait that
 * is too long, is answered with 503. Thread-safe.
 */
@Component
public final class CostlyReads implements DisposableBean {

  /** The store keeps the rest of its readers for checks and adds. */
  private static final int MOST_THREADS = 4;

  /** So much longer than it may take one waits for its turn. */
  private static final Duration TURN = Duration.ofSeconds(8);

  private static final Duration LOOK = Duration.ofMillis(200);

  private final ReadPool strangers;
  private final ReadPool known;

  CostlyReads(Limits limits) {
    int processors = Runtime.getRuntime().availableProcessors();
    int most = Math.min(processors, MOST_THREADS);
    Limits.Reads reads = limits.read();
    this.strangers =
        new ReadPool(
            "strangers", Math.max(1, most / 2), reads.strangerWaiting(), reads.strangerTime());
    this.known = new ReadPool("known", most, reads.waiting(), reads.time());
  }

  /**
   * Runs a read as the caller of this thread, and waits for it. It ends if the caller hangs up.
   *
   * @throws Problem 503 if there is no place for it, or its turn does not come in time
   * @throws StoreException.TookTooLong if it takes more time than such a caller has
   */
  public <T> T run(Supplier<T> read) {
    return (Caller.current().isKnown() ? known : strangers).run(read);
  }

  @Override
  public void destroy() {
    strangers.threads.shutdownNow();
    known.threads.shutdownNow();
  }

  /** Some threads, and how long each may be held and waited for. */
  private static final class ReadPool {

    private final ThreadPoolExecutor threads;
    private final Duration budget;

    /** How long one waits for its turn and its answer together. */
    private final Duration patience;

    ReadPool(String name, int count, int queue, Duration budget) {
      this.budget = budget;
      this.patience = budget.plus(TURN);
      this.threads =
          new ThreadPoolExecutor(
              count,
              count,
              patience.toMillis(),
              TimeUnit.MILLISECONDS,
              new ArrayBlockingQueue<>(queue),
              PoolThreads.named("costly-reads-" + name + "-"));
      threads.allowCoreThreadTimeOut(true);
    }

    <T> T run(Supplier<T> read) {
      SecurityContext caller = SecurityContextHolder.getContext();
      var within = new ReadBudget(budget);
      Future<T> result;
      try {
        result =
            threads.submit(
                () -> {
                  SecurityContextHolder.setContext(caller);
                  try {
                    return within.run(read);
                  } finally {
                    SecurityContextHolder.clearContext();
                  }
                });
      } catch (RejectedExecutionException e) {
        throw busy();
      }
      try {
        return await(result);
      } catch (ExecutionException e) {
        throw switch (e.getCause()) {
          case RuntimeException own -> own;
          case Error own -> throw own;
          case Throwable other -> new IllegalStateException(other);
        };
      } catch (TimeoutException | CancellationException e) {
        end(result, within);
        throw busy();
      } catch (InterruptedException e) {
        end(result, within);
        Thread.currentThread().interrupt();
        throw busy();
      }
    }

    /** Waits, and looks now and then whether somebody still waits for the answer. */
    private <T> T await(Future<T> result)
        throws InterruptedException, ExecutionException, TimeoutException {
      long end = System.nanoTime() + patience.toNanos();
      while (true) {
        long left = Math.min(LOOK.toNanos(), end - System.nanoTime());
        try {
          return result.get(Math.max(0, left), TimeUnit.NANOSECONDS);
        } catch (TimeoutException e) {
          if (left < LOOK.toNanos() || hasHungUp()) {
            throw e;
          }
        }
      }
    }

    private static boolean hasHungUp() {
      return RequestContextHolder.getRequestAttributes() instanceof ServletRequestAttributes request
          && ClientConnection.isClosed(request.getRequest());
    }

    private static void end(Future<?> result, ReadBudget within) {
      within.cancel();
      result.cancel(false);
    }
  }

  private static Problem busy() {
    return Problem.of(
            503, "busy", "Try again shortly", "More is being read than can be read at once.")
        .header("Retry-After", "1");
  }
}
