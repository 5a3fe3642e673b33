package nodley.service.limits;

import java.time.Duration;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * What browsers are told about TLS: {@code nodley.https.*}.
 *
 * @param hsts for how long browsers shall ask for this host by TLS only (RFC 6797, {@code
 *     max-age}); zero says nothing of it
 */
public record HttpsSettings(@DefaultValue("0s") Duration hsts) {

  public HttpsSettings {
    if (hsts.isNegative()) {
      throw new IllegalArgumentException(
          "nodley.https.hsts is " + hsts + "; it must be a time such as 365d, or 0s.");
    }
  }
}
