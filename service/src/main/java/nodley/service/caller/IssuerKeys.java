package nodley.service.caller;

import com.nimbusds.jose.KeySourceException;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.JWKSelector;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.source.JWKSource;
import com.nimbusds.jose.proc.SecurityContext;
import com.nimbusds.jose.util.DefaultResourceRetriever;
import java.io.IOException;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URL;
import java.text.ParseException;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.List;
import java.util.concurrent.locks.ReentrantLock;
import nodley.service.limits.IssuerSettings;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The public keys of an issuer (RFC 7517). They are fetched when they are first needed, and again
 * after five minutes, or where a token names a key that is not among them; but seldom, whatever
 * strangers send, and by one thread at a time, while others are told to come again. Keys that are
 * known stay good for an hour while the issuer cannot be reached. Redirects are not followed.
 * Thread-safe.
 */
final class IssuerKeys implements JWKSource<SecurityContext> {

  private static final int MILLIS = 2_000;
  private static final int MOST_BYTES = 256 * 1024;
  private static final Duration FRESH = Duration.ofMinutes(5);
  private static final Duration GOOD = Duration.ofHours(1);
  private static final Duration BETWEEN = Duration.ofSeconds(10);

  private static final JsonMapper JSON = JsonMapper.shared();

  private final IssuerSettings issuer;
  private final InstantSource clock;
  private final ReentrantLock fetching = new ReentrantLock();
  private final DefaultResourceRetriever retriever =
      new DefaultResourceRetriever(MILLIS, MILLIS, MOST_BYTES) {
        @Override
        protected HttpURLConnection openHTTPConnection(URL url) throws IOException {
          HttpURLConnection connection = super.openHTTPConnection(url);
          connection.setInstanceFollowRedirects(false);
          return connection;
        }
      };

  private volatile Known known = new Known(new JWKSet(), Instant.EPOCH);
  private volatile Instant asked = Instant.EPOCH;

  private record Known(JWKSet keys, Instant at) {}

  /** The keys cannot be had now. */
  static final class Unreachable extends KeySourceException {
    private static final long serialVersionUID = 1;

    Unreachable(String message) {
      super(message);
    }
  }

  IssuerKeys(IssuerSettings issuer, InstantSource clock) {
    this.issuer = issuer;
    this.clock = clock;
  }

  @Override
  public List<JWK> get(JWKSelector selector, SecurityContext context) throws KeySourceException {
    Instant now = clock.instant();
    if (now.isAfter(known.at().plus(FRESH))) {
      fetch(now);
    }
    List<JWK> found = selector.select(current(now));
    if (found.isEmpty()) {
      // It may have changed its keys.
      fetch(now);
      found = selector.select(current(now));
    }
    return found;
  }

  private JWKSet current(Instant now) throws KeySourceException {
    Known there = known;
    if (now.isAfter(there.at().plus(GOOD))) {
      throw new Unreachable(issuer.name());
    }
    return there.keys();
  }

  private void fetch(Instant now) {
    if (now.isBefore(asked.plus(BETWEEN)) || !fetching.tryLock()) {
      return;
    }
    try {
      asked = now;
      known = new Known(JWKSet.parse(text(address())), now);
    } catch (IOException | ParseException | JacksonException e) {
      // Those that are known are good for a while.
    } finally {
      fetching.unlock();
    }
  }

  private String text(String address) throws IOException {
    return retriever.retrieveResource(URI.create(address).toURL()).getContent();
  }

  /** OpenID Connect Discovery 1.0, section 4. */
  private String address() throws IOException {
    if (!issuer.jwks().isEmpty()) {
      return issuer.jwks();
    }
    String base = issuer.uri().replaceFirst("/$", "");
    JsonNode configuration = JSON.readTree(text(base + "/.well-known/openid-configuration"));
    if (!configuration.path("issuer").asString("").equals(issuer.uri())) {
      throw new IOException("The configuration is another issuer's.");
    }
    try {
      return configuration.path("jwks_uri").asString("");
    } catch (IllegalArgumentException e) {
      throw new IOException(e);
    }
  }
}
