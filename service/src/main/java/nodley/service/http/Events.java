package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.Supplier;
import nodley.service.caller.Caller;
import nodley.service.limits.Limits;
import nodley.service.limits.Network;
import nodley.service.live.Feed;
import nodley.service.problem.Problem;
import org.springframework.stereotype.Component;

/**
 * Sends the events of a feed as server-sent events (HTML, section 9.2), until the client
 * disconnects. Sends a comment after a while without events, so that proxies keep the connection
 * and a dead one is noticed.
 */
@Component
public final class Events {

  private final long heartbeatMillis;

  /** Streams with the heartbeat of the limits: a comment after so long without an event. */
  public Events(Limits limits) {
    this.heartbeatMillis = limits.watch().heartbeat().toMillis();
  }

  /**
   * Sends events, from now on or, where Last-Event-ID says so, from that one on. Where what came
   * after it is not remembered, {@code reset} says that it is to be looked for anew.
   *
   * @param form what is watched; empty if that is more than one form
   * @param event the lines of one, without the blank one that ends it
   */
  public <T> void send(
      HttpServletRequest request,
      HttpServletResponse response,
      Feed<T> feed,
      String form,
      Predicate<T> wanted,
      Function<Feed.Told<T>, String> event) {
    Optional<String> after =
        Optional.ofNullable(request.getHeader("Last-Event-ID")).filter(id -> !id.isEmpty());
    send(request, response, feed.watch(wanted, from(request, form), after), List::of, event);
  }

  /**
   * Sends events from now on; before them, what is the case once they are watched, so that nothing
   * falls between the two.
   */
  public <T> void send(
      HttpServletRequest request,
      HttpServletResponse response,
      Feed<T> feed,
      Predicate<T> wanted,
      Supplier<List<String>> before,
      Function<Feed.Told<T>, String> event) {
    send(request, response, feed.watch(wanted, from(request, ""), Optional.empty()), before, event);
  }

  private static Feed.From from(HttpServletRequest request, String form) {
    return new Feed.From(
        Caller.current().isKnown() ? "" : Network.of(request.getRemoteAddr()), form);
  }

  private <T> void send(
      HttpServletRequest request,
      HttpServletResponse response,
      Optional<Feed<T>.Watcher> watching,
      Supplier<List<String>> before,
      Function<Feed.Told<T>, String> event) {
    Feed<T>.Watcher room =
        watching.orElseThrow(
            () ->
                Problem.of(503, "busy", "Too many watch", "Try again when somebody has left.")
                    .header("Retry-After", "60"));
    try (Feed<T>.Watcher watcher = room) {
      List<String> first = before.get();
      response.setContentType("text/event-stream;charset=UTF-8");
      response.setHeader("Cache-Control", "no-store");
      if (request.getMethod().equals("HEAD")) {
        // Nothing is written to it, so nobody would notice when it is gone.
        return;
      }
      OutputStream out = response.getOutputStream();
      write(out, watcher.isCutOff() ? "event: reset\ndata: {}" : ": watching");
      for (String told : first) {
        write(out, told);
      }
      tell(out, watcher, event);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } catch (IOException e) {
      // Who watched has left; that is how watching ends.
    }
  }

  private <T> void tell(
      OutputStream out, Feed<T>.Watcher watcher, Function<Feed.Told<T>, String> event)
      throws IOException, InterruptedException {
    while (!watcher.isOver()) {
      Optional<Feed.Told<T>> next = watcher.next(heartbeatMillis);
      long missed = watcher.missed();
      if (missed > 0) {
        write(out, "event: missed\ndata: {\"missed\":" + missed + "}");
      }
      write(out, next.map(event).orElse(": still watching"));
    }
  }

  private static void write(OutputStream out, String text) throws IOException {
    out.write((text + "\n\n").getBytes(StandardCharsets.UTF_8));
    out.flush();
  }
}
