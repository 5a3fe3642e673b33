package nodley.service.issuer;

import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.util.DefaultResourceRetriever;
import java.io.IOException;
import java.net.HttpURLConnection;
import java.net.URI;
import java.net.URL;
import java.text.ParseException;
import java.util.List;
import java.util.Map;
import nodley.service.limits.IssuerSettings;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/**
 * Fetches what an issuer publishes: its configuration (OpenID Connect Discovery 1.0, section 4) and
 * its keys. Redirects are not followed, 256 KiB are read at most, and each is waited for two
 * seconds. Thread-safe.
 */
final class IssuerDocuments {

  private static final int MILLIS = 2_000;
  private static final int MOST_BYTES = 256 * 1024;
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final TypeReference<Map<String, Object>> MEMBERS = new TypeReference<>() {};

  /** What of a configuration is an address that the service, or a browser, goes to. */
  private static final List<String> ADDRESSES =
      List.of(
          "authorization_endpoint",
          "token_endpoint",
          "userinfo_endpoint",
          "end_session_endpoint",
          "jwks_uri");

  private final IssuerSettings settings;
  private final DefaultResourceRetriever retriever =
      new DefaultResourceRetriever(MILLIS, MILLIS, MOST_BYTES) {
        @Override
        protected HttpURLConnection openHTTPConnection(URL url) throws IOException {
          HttpURLConnection connection = super.openHTTPConnection(url);
          connection.setInstanceFollowRedirects(false);
          return connection;
        }
      };

  IssuerDocuments(IssuerSettings settings) {
    this.settings = settings;
  }

  /**
   * @throws IOException if it cannot be fetched, is another issuer's, or leads to addresses that
   *     anybody on the way could answer for
   */
  Map<String, Object> configuration() throws IOException {
    String base = settings.uri().replaceFirst("/$", "");
    Map<String, Object> configuration =
        JSON.readValue(text(base + "/.well-known/openid-configuration"), MEMBERS);
    if (!settings.uri().equals(configuration.get("issuer"))) {
      throw new IOException("The configuration is another issuer's.");
    }
    for (String each : ADDRESSES) {
      Object address = configuration.get(each);
      if (address != null && !IssuerSettings.isSafe(String.valueOf(address))) {
        throw new IOException("The configuration leads to an address that is not safe.");
      }
    }
    return configuration;
  }

  JWKSet keys() throws IOException, ParseException {
    String address =
        settings.jwks().isEmpty()
            ? String.valueOf(configuration().get("jwks_uri"))
            : settings.jwks();
    return JWKSet.parse(text(address));
  }

  private String text(String address) throws IOException {
    try {
      return retriever.retrieveResource(URI.create(address).toURL()).getContent();
    } catch (IllegalArgumentException e) {
      throw new IOException(e);
    }
  }
}
