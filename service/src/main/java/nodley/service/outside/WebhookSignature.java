package nodley.service.outside;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Instant;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * The headers by which an outlet knows that a call is this service's, and when it was sent: those
 * of the Standard Webhooks specification 1.0.0 with symmetric signatures ({@code v1}), which are
 * HMAC-SHA256 (RFC 2104) of the id, the time and the body. Stateless.
 */
public final class WebhookSignature {

  private static final String ALGORITHM = "HmacSHA256";

  private WebhookSignature() {}

  /**
   * Returns the headers of a call.
   *
   * @param id what the call is known by, however often it is sent; without full stops
   * @param keys one signature for each; with none, the call is not signed
   */
  static Map<String, String> headers(String id, Instant sentAt, byte[] body, List<byte[]> keys) {
    String timestamp = Long.toString(sentAt.getEpochSecond());
    Map<String, String> headers = new LinkedHashMap<>();
    headers.put("webhook-id", id);
    headers.put("webhook-timestamp", timestamp);
    if (!keys.isEmpty()) {
      byte[] before = (id + "." + timestamp + ".").getBytes(StandardCharsets.UTF_8);
      headers.put(
          "webhook-signature",
          keys.stream()
              .map(key -> "v1," + signature(key, before, body))
              .collect(Collectors.joining(" ")));
    }
    return headers;
  }

  private static String signature(byte[] key, byte[] before, byte[] body) {
    try {
      Mac mac = Mac.getInstance(ALGORITHM);
      mac.init(new SecretKeySpec(key, ALGORITHM));
      mac.update(before);
      return Base64.getEncoder().encodeToString(mac.doFinal(body));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every Java has " + ALGORITHM, e);
    }
  }
}
