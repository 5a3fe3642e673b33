package nodley.service.submission;

import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Supplier;
import nodley.service.problem.Problem;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;

/**
 * Where reads run that may take long: lists, searches, versions. They have threads of their own, as
 * many as there are processors, so that they never hold all those that carry checks and adds. What
 * finds no place in the queue, or waits too long there, is told to come again.
 */
@Component
public final class CostlyReads implements DisposableBean {

  private static final int QUEUE = 256;
  private static final long SECONDS = 30;

  private final ThreadPoolExecutor threads;

  CostlyReads() {
    int processors = Runtime.getRuntime().availableProcessors();
    this.threads =
        new ThreadPoolExecutor(
            processors,
            processors,
            SECONDS,
            TimeUnit.SECONDS,
            new ArrayBlockingQueue<>(QUEUE),
            Thread.ofPlatform().daemon().name("costly-reads-", 1).factory());
    threads.allowCoreThreadTimeOut(true);
  }

  /**
   * Runs a read as the caller of this thread, and waits for it.
   *
   * @throws Problem 503 if there is no place for it, or its turn does not come in time
   */
  public <T> T run(Supplier<T> read) {
    SecurityContext caller = SecurityContextHolder.getContext();
    Future<T> result;
    try {
      result =
          threads.submit(
              () -> {
                SecurityContextHolder.setContext(caller);
                try {
                  return read.get();
                } finally {
                  SecurityContextHolder.clearContext();
                }
              });
    } catch (RejectedExecutionException e) {
      throw busy();
    }
    try {
      return result.get(SECONDS, TimeUnit.SECONDS);
    } catch (ExecutionException e) {
      throw switch (e.getCause()) {
        case RuntimeException own -> own;
        case Error own -> throw own;
        case Throwable other -> new IllegalStateException(other);
      };
    } catch (TimeoutException | CancellationException e) {
      result.cancel(false);
      throw busy();
    } catch (InterruptedException e) {
      result.cancel(false);
      Thread.currentThread().interrupt();
      throw busy();
    }
  }

  private static Problem busy() {
    return Problem.of(
            503, "busy", "Try again shortly", "More is being read than can be read at once.")
        .header("Retry-After", "1");
  }

  @Override
  public void destroy() {
    threads.shutdownNow();
  }
}
