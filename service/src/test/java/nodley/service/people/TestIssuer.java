package nodley.service.people;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSSigner;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jose.crypto.RSASSASigner;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.RSAKey;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import com.nimbusds.jose.jwk.gen.RSAKeyGenerator;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;

/** An issuer on loopback that does what a test wants: that errs, changes keys, or is down. */
final class TestIssuer implements AutoCloseable {

  /** Made once, for it takes a second: the first key of every issuer here. */
  private static final RSAKey FIRST = key();

  /** A key that no issuer has published, under the id of the first. */
  static final RSAKey FORGED = key();

  final RSAKey first = FIRST;
  final ECKey second;
  final String uri;

  /** How often it was asked for its keys. */
  final AtomicInteger fetches = new AtomicInteger();

  /** What was last sent for a code: the body, and the Authorization header. */
  final AtomicReference<String> exchange = new AtomicReference<>("");

  final AtomicReference<String> client = new AtomicReference<>("");

  volatile List<JWK> published;
  volatile int status = 200;
  volatile String moved = "";

  /** What it answers to a code. */
  volatile String tokens = "{}";

  /** What it tells of whoever has signed in. */
  volatile String about = "{}";

  /** While it is above nothing, a code is not answered. */
  volatile CountDownLatch hangs = new CountDownLatch(0);

  /** What else its configuration says. */
  final Map<String, String> configured = new ConcurrentHashMap<>();

  private final HttpServer server;

  TestIssuer() throws IOException, JOSEException {
    second = new ECKeyGenerator(Curve.P_256).keyID("two").generate();
    published = List.of(first.toPublicJWK());
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    uri = "http://127.0.0.1:" + server.getAddress().getPort();
    server.createContext("/.well-known/openid-configuration", it -> answer(it, configuration()));
    server.createContext(
        "/keys",
        it -> {
          fetches.incrementAndGet();
          answer(it, new JWKSet(published).toString());
        });
    server.createContext("/token", this::token);
    server.createContext("/about", it -> answer(it, about));
    server.start();
  }

  private String configuration() {
    StringBuilder more = new StringBuilder();
    configured.forEach((name, value) -> more.append(", \"%s\": \"%s\"".formatted(name, value)));
    return """
    {"issuer": "%1$s", "jwks_uri": "%1$s/keys", "token_endpoint": "%1$s/token",
     "authorization_endpoint": "%1$s/begin", "subject_types_supported": ["public"]%2$s}
    """
        .formatted(uri, more);
  }

  private void token(HttpExchange sent) throws IOException {
    exchange.set(new String(sent.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
    client.set(String.valueOf(sent.getRequestHeaders().getFirst("Authorization")));
    try {
      hangs.await();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    answer(sent, tokens);
  }

  private void answer(HttpExchange exchange, String json) throws IOException {
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    if (!moved.isEmpty()) {
      exchange.getResponseHeaders().set("Location", moved);
    }
    exchange.getResponseHeaders().set("Content-Type", "application/json");
    exchange.sendResponseHeaders(status, bytes.length);
    exchange.getResponseBody().write(bytes);
    exchange.close();
  }

  static String signed(JWK key, JWTClaimsSet claims) throws JOSEException {
    JWSSigner signer =
        key instanceof RSAKey rsa ? new RSASSASigner(rsa) : new ECDSASigner(key.toECKey());
    JWSAlgorithm algorithm = key instanceof RSAKey ? JWSAlgorithm.RS256 : JWSAlgorithm.ES256;
    SignedJWT jwt =
        new SignedJWT(new JWSHeader.Builder(algorithm).keyID(key.getKeyID()).build(), claims);
    jwt.sign(signer);
    return jwt.serialize();
  }

  @Override
  public void close() {
    server.stop(0);
  }

  private static RSAKey key() {
    try {
      return new RSAKeyGenerator(2048).keyID("one").generate();
    } catch (JOSEException e) {
      throw new IllegalStateException(e);
    }
  }
}
