package nodley.service.upload;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import io.github.bucket4j.Bucket;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InterruptedIOException;
import java.net.SocketTimeoutException;
import java.time.Duration;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentMap;
import java.util.concurrent.atomic.AtomicInteger;
import nodley.service.limits.Limits;
import nodley.service.limits.Network;
import nodley.service.problem.Problem;
import org.springframework.stereotype.Component;

/**
 * Bounds how many requests bring bytes of files at the same time, and how fast and how slowly they
 * may. One owner has a quarter of the places; of strangers whose browser is not known, those at one
 * address do. Thread-safe.
 */
@Component
class UploadPlaces {

  private static final int SHARE = 4;
  private static final int MOST_OWNERS = 10_000;

  private final int total;
  private final long fastest;
  private final Limits.Requests slowest;
  private final AtomicInteger taken = new AtomicInteger();
  private final ConcurrentMap<String, Integer> byOwner = new ConcurrentHashMap<>();
  private final Cache<String, Bucket> speeds =
      Caffeine.newBuilder().maximumSize(MOST_OWNERS).build();

  UploadPlaces(Limits limits) {
    this.total = limits.upload().atOnce();
    this.fastest = limits.upload().speed().toBytes();
    this.slowest = limits.request();
  }

  /**
   * Takes a place; close it when the bytes are there.
   *
   * @param address where the bytes come from
   * @throws Problem 503 if there is none
   */
  Place take(String uploader, String address) {
    String owner = uploader.isEmpty() ? Network.of(address) : uploader;
    int all = taken.incrementAndGet();
    int own = byOwner.merge(owner, 1, Integer::sum);
    Place place = new Place(owner);
    if (all > total || own > Math.max(1, total / SHARE)) {
      place.close();
      throw Problem.of(
              503, "busy", "Try again shortly", "More files come than can be taken at once.")
          .header("Retry-After", "5");
    }
    return place;
  }

  /** A place that is taken. */
  final class Place implements AutoCloseable {
    private final String owner;

    private Place(String owner) {
      this.owner = owner;
    }

    /** Returns a stream at the pace that its sender may have. */
    InputStream paced(InputStream in) {
      return new Paced(in, bucket(owner));
    }

    @Override
    public void close() {
      taken.decrementAndGet();
      byOwner.computeIfPresent(owner, (_, count) -> count == 1 ? null : count - 1);
    }
  }

  private Bucket bucket(String owner) {
    return speeds.get(
        owner,
        _ ->
            Bucket.builder()
                .addLimit(
                    limit -> limit.capacity(fastest).refillGreedy(fastest, Duration.ofSeconds(1)))
                .build());
  }

  /** Waits where bytes come too fast, and gives up where they come too slowly. */
  private final class Paced extends FilterInputStream {
    private final Bucket bucket;
    private long reading;
    private long length;

    Paced(InputStream in, Bucket bucket) {
      super(in);
      this.bucket = bucket;
    }

    @Override
    public int read() throws IOException {
      long begun = System.nanoTime();
      int read = super.read();
      count(begun, read < 0 ? 0 : 1);
      return read;
    }

    @Override
    public int read(byte[] bytes, int offset, int most) throws IOException {
      long begun = System.nanoTime();
      int read = super.read(bytes, offset, most);
      count(begun, Math.max(0, read));
      return read;
    }

    /** What it waits for by itself is not its sender's slowness. */
    private void count(long begun, int read) throws IOException {
      reading += System.nanoTime() - begun;
      length += read;
      long given = slowest.time().toNanos() + 1_000_000_000L * (length / slowest.speed().toBytes());
      if (reading > given) {
        throw new SocketTimeoutException("The bytes come too slowly.");
      }
      if (read > 0) {
        try {
          bucket.asBlocking().consume(Math.min(read, fastest));
        } catch (InterruptedException e) {
          Thread.currentThread().interrupt();
          throw new InterruptedIOException();
        }
      }
    }
  }
}
