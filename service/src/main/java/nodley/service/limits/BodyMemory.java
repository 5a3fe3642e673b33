package nodley.service.limits;

import jakarta.servlet.ServletRequest;
import jakarta.servlet.ServletRequestEvent;
import jakarta.servlet.ServletRequestListener;
import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import nodley.service.problem.Problem;
import org.springframework.stereotype.Component;

/**
 * Bounds what the bodies of all requests take of the heap at once. A body counts as far as it has
 * come, until its request is answered; strangers of one network have a quarter, and known callers
 * room of their own. Short bodies do not count, so that whoever fills the room keeps nobody from
 * sending an ordinary form. What is large also costs time to read and judge, and requests are not
 * interrupted: so large ones of strangers take turns, on half of the processors at most. Safe for
 * many threads.
 */
@Component
public final class BodyMemory implements ServletRequestListener {

  /** Bodies up to here do not count. */
  private static final int SHORT = 16_384;

  private static final int SHARE = 4;
  private static final String TAKEN = BodyMemory.class.getName();
  private static final String TURN = TAKEN + ".turn";

  private final Semaphore turns =
      new Semaphore(Math.max(1, Runtime.getRuntime().availableProcessors() / 2), true);

  private final long most;
  private final Duration patience;
  private final AtomicLong ofStrangers = new AtomicLong();
  private final AtomicLong ofKnown = new AtomicLong();
  private final Map<String, Long> byNetwork = new ConcurrentHashMap<>();

  private record Taken(String network, long bytes) {}

  BodyMemory(Limits limits) {
    this.most = limits.request().bodies().toBytes();
    this.patience = limits.request().turn();
  }

  /**
   * Counts the bytes of a body that have arrived so far.
   *
   * @param known true if the caller is known
   * @throws Problem 503 if there is no room for it
   */
  public void take(HttpServletRequest request, long bytes, boolean known) {
    if (bytes <= SHORT) {
      return;
    }
    Taken before = (Taken) request.getAttribute(TAKEN);
    String network = known ? "" : Network.of(request.getRemoteAddr());
    long more = bytes - (before == null ? 0 : before.bytes());
    request.setAttribute(TAKEN, new Taken(network, bytes));
    long together = (known ? ofKnown : ofStrangers).addAndGet(more);
    long near = known ? 0 : byNetwork.merge(network, more, Long::sum);
    if (together > most || near > most / SHARE) {
      throw busy();
    }
  }

  /**
   * Waits until a body that has come whole may be worked on, if it is a stranger's and large.
   *
   * @throws Problem 503 if its turn does not come in time
   */
  public void awaitTurn(HttpServletRequest request) {
    if (!(request.getAttribute(TAKEN) instanceof Taken(String network, var _))
        || network.isEmpty()) {
      return;
    }
    try {
      if (!turns.tryAcquire(patience.toMillis(), TimeUnit.MILLISECONDS)) {
        throw busy();
      }
      request.setAttribute(TURN, true);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw busy();
    }
  }

  private static Problem busy() {
    return Problem.of(
            503,
            "busy",
            "Try again shortly",
            "More large bodies come than can be worked on at once.")
        .header("Retry-After", "2");
  }

  /** Gives back what a request took, whatever became of it, if that was not done before. */
  @Override
  public void requestDestroyed(ServletRequestEvent event) {
    release(event.getServletRequest());
  }

  /**
   * Gives back what a request took, once its answer is made: the client may be slow to read it, or
   * never read it, and must not keep others from their turn.
   */
  public void release(ServletRequest request) {
    if (request.getAttribute(TURN) != null) {
      request.removeAttribute(TURN);
      turns.release();
    }
    if (request.getAttribute(TAKEN) instanceof Taken(String network, long bytes)) {
      request.removeAttribute(TAKEN);
      (network.isEmpty() ? ofKnown : ofStrangers).addAndGet(-bytes);
      byNetwork.computeIfPresent(network, (_, now) -> now - bytes > 0 ? now - bytes : null);
    }
  }
}
