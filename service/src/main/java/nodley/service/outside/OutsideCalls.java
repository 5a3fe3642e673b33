package nodley.service.outside;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.UnknownHostException;
import java.time.Clock;
import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import javax.net.ssl.SSLException;
import nodley.service.limits.OutsideAddress;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.Header;
import org.apache.hc.core5.http.NoHttpResponseException;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.apache.hc.core5.util.Timeout;
import org.springframework.stereotype.Component;

/**
 * Calls addresses outside that are set, by POST. Redirects are not followed, nothing is remembered
 * but open connections, at most some kilobytes of an answer are read, and a call is over in time
 * whatever the other side does. Thread-safe; a call blocks.
 */
@Component
public final class OutsideCalls implements AutoCloseable {

  private static final int CONNECTIONS = 256;
  private static final int CONNECTIONS_TO_ONE = 64;

  /** Bytes of an answer that are read. */
  private static final int LONGEST = 1 << 16;

  /** Made when they are first needed: most services call nobody, and each takes a while. */
  private CloseableHttpClient anywhere;

  private CloseableHttpClient publicOnly;
  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(
          Thread.ofPlatform().daemon().name("outside-clock").factory());

  private final Clock clock;

  OutsideCalls(Clock clock) {
    this.clock = clock;
  }

  private synchronized CloseableHttpClient client(OutsideAddress address) {
    if (address.isPrivate()) {
      anywhere = anywhere == null ? made(false) : anywhere;
      return anywhere;
    }
    publicOnly = publicOnly == null ? made(true) : publicOnly;
    return publicOnly;
  }

  private static CloseableHttpClient made(boolean publicOnly) {
    PoolingHttpClientConnectionManagerBuilder connections =
        PoolingHttpClientConnectionManagerBuilder.create()
            .setMaxConnTotal(CONNECTIONS)
            .setMaxConnPerRoute(CONNECTIONS_TO_ONE)
            .setDefaultConnectionConfig(
                ConnectionConfig.custom()
                    .setTimeToLive(Timeout.ofMinutes(5))
                    .setValidateAfterInactivity(Timeout.ofSeconds(1))
                    .build());
    if (publicOnly) {
      connections.setDnsResolver(new PublicAddresses());
    }
    return HttpClients.custom()
        .setConnectionManager(connections.build())
        .disableRedirectHandling()
        .disableAutomaticRetries()
        .disableCookieManagement()
        .disableAuthCaching()
        .disableDefaultUserAgent()
        .build();
  }

  /**
   * A call.
   *
   * @param id what it is known by, however often it is sent; without full stops
   * @param type the media type of its body
   * @param time in which it is over
   */
  public record Call(OutsideAddress address, String id, String type, byte[] body, Duration time) {}

  /**
   * What was answered.
   *
   * @param retryAfter as it was sent; empty if it was not
   * @param body its beginning
   * @param isWhole false if there was more of the body than is read
   */
  public record Answer(int status, Optional<String> retryAfter, byte[] body, boolean isWhole) {}

  /**
   * Calls, signed by {@link WebhookSignature}, and waits for the answer.
   *
   * @throws IOException if there is none in time, or the address must not be called; {@link #said}
   *     has words for it
   */
  public Answer post(Call call) throws IOException {
    HttpPost request = new HttpPost(URI.create(call.address().url()));
    Timeout time = Timeout.of(call.time());
    request.setConfig(
        RequestConfig.custom().setConnectionRequestTimeout(time).setResponseTimeout(time).build());
    call.address().headers().forEach(request::setHeader);
    WebhookSignature.headers(call.id(), clock.instant(), call.body(), call.address().keys())
        .forEach(request::setHeader);
    request.setHeader("User-Agent", "Nodley");
    request.setEntity(new ByteArrayEntity(call.body(), ContentType.parse(call.type())));
    AtomicBoolean ended = new AtomicBoolean();
    Runnable abort =
        () -> {
          ended.set(true);
          request.abort();
        };
    Future<?> end = timer.schedule(abort, call.time().toMillis(), TimeUnit.MILLISECONDS);
    try {
      return client(call.address()).execute(request, answer -> read(answer, request));
    } catch (IOException | RuntimeException e) {
      // One that is aborted while it connects may end in whatever the client did not expect then.
      if (ended.get() || e instanceof SocketTimeoutException) {
        throw new IOException("no answer within " + seconds(call.time()), e);
      }
      throw e;
    } finally {
      end.cancel(false);
    }
  }

  /** Returns what operators are told of a call that came to nothing. */
  public static String said(IOException e) {
    return switch (e) {
      case SSLException _ -> "its certificate is not good: " + e.getMessage();
      case PublicAddresses.PrivateAddressException _ -> e.getMessage();
      case UnknownHostException _ -> "there is no host of this name: " + e.getMessage();
      case ConnectException _ -> "nothing answers there";
      case NoHttpResponseException _ -> "the connection ended without an answer";
      default -> String.valueOf(e.getMessage());
    };
  }

  private static String seconds(Duration time) {
    return time.toMillis() % 1_000 == 0 ? time.toSeconds() + " s" : time.toMillis() + " ms";
  }

  private static Answer read(ClassicHttpResponse answer, HttpPost request) throws IOException {
    Header retryAfter = answer.getFirstHeader("Retry-After");
    byte[] body = new byte[0];
    boolean whole = true;
    if (answer.getEntity() != null) {
      InputStream in = answer.getEntity().getContent();
      body = in.readNBytes(LONGEST);
      whole = body.length < LONGEST || in.read() < 0;
      if (!whole) {
        // Nobody waits for the rest of it.
        request.abort();
      }
    }
    return new Answer(
        answer.getCode(), Optional.ofNullable(retryAfter).map(Header::getValue), body, whole);
  }

  @Override
  public synchronized void close() throws IOException {
    timer.shutdownNow();
    for (CloseableHttpClient each : Arrays.asList(anywhere, publicOnly)) {
      if (each != null) {
        each.close();
      }
    }
  }
}
