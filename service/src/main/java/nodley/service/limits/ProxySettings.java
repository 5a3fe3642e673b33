package nodley.service.limits;

import java.util.List;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.security.web.util.matcher.IpAddressMatcher;

/**
 * The proxies in front of the service: {@code nodley.proxy.*}.
 *
 * @param trusted their addresses, or networks as {@code 10.0.0.0/8}; what others say of a request
 *     in {@code Forwarded} or {@code X-Forwarded-*} counts for nothing
 * @param headers which of the two they write
 */
public record ProxySettings(
    @DefaultValue List<String> trusted, @DefaultValue("x-forwarded") Headers headers) {

  /**
   * Which headers the trusted proxies write. The others count for nothing, even from a trusted
   * proxy: it may pass on what the client wrote.
   */
  public enum Headers {
    /** {@code X-Forwarded-For}, {@code -Proto}, {@code -Host} and {@code -Port}. */
    X_FORWARDED,

    /** {@code Forwarded} (RFC 7239). */
    FORWARDED
  }

  public ProxySettings {
    trusted = List.copyOf(trusted);
    for (String each : trusted) {
      try {
        new IpAddressMatcher(each);
      } catch (IllegalArgumentException e) {
        throw new IllegalArgumentException(
            "nodley.proxy.trusted has \""
                + each
                + "\"; it must be an IP address, or a network such as 10.0.0.0/8.");
      }
    }
  }

  List<IpAddressMatcher> matchers() {
    return trusted.stream().map(IpAddressMatcher::new).toList();
  }
}
