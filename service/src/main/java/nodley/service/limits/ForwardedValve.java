package nodley.service.limits;

import jakarta.servlet.ServletException;
import java.io.IOException;
import java.util.List;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.valves.ValveBase;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.web.util.matcher.IpAddressMatcher;

/**
 * Applies the forwarding headers of trusted proxies: client address, scheme, host. The client is
 * the last address that is not a trusted proxy; what stands before it could be forged by the
 * client.
 */
final class ForwardedValve extends ValveBase {

  private static final Logger LOG = LoggerFactory.getLogger(ForwardedValve.class);

  private final List<IpAddressMatcher> proxies;
  private final ProxySettings.Headers headers;
  private boolean warned;

  ForwardedValve(List<IpAddressMatcher> proxies, ProxySettings.Headers headers) {
    super(true);
    this.headers = headers;
    this.proxies = proxies;
  }

  @Override
  public void invoke(Request request, Response response) throws IOException, ServletException {
    Forwarded said = Forwarded.of(headers, request::getHeaders);
    if (!said.hops().isEmpty()) {
      if (isTrusted(request.getRemoteAddr())) {
        apply(said, request);
      } else {
        warn(request);
      }
    }
    getNext().invoke(request, response);
  }

  private void apply(Forwarded said, Request request) {
    List<Forwarded.Hop> hops = said.hops();
    // Each proxy adds one at the end; going back, the first that no proxy of ours is, is the
    // client.
    int client = hops.size() - 1;
    while (client > 0 && isTrusted(hops.get(client).address())) {
      client--;
    }
    Forwarded.Hop hop = hops.get(client);
    if (!hop.address().isEmpty()) {
      request.setRemoteAddr(hop.address());
      request.setRemoteHost(hop.address());
    }
    var coyote = request.getCoyoteRequest();
    if (!hop.scheme().isEmpty()) {
      boolean secure = hop.scheme().equals("https");
      request.setSecure(secure);
      coyote.scheme().setString(hop.scheme());
      request.setServerPort(secure ? 443 : 80);
    }
    if (!hop.host().isEmpty()) {
      coyote.getMimeHeaders().setValue("Host").setString(hop.hostAndPort());
      coyote.serverName().setString(hop.host());
      hop.port().ifPresent(request::setServerPort);
    }
  }

  private boolean isTrusted(String address) {
    return proxies.stream().anyMatch(it -> matches(it, address));
  }

  private static boolean matches(IpAddressMatcher network, String address) {
    try {
      return network.matches(address);
    } catch (IllegalArgumentException e) {
      // A name, or something obfuscated (RFC 7239, section 6.3), is no proxy of ours.
      return false;
    }
  }

  /** Whoever runs a proxy and has not said so would see one address for everybody. */
  private synchronized void warn(Request request) {
    if (!warned) {
      warned = true;
      LOG.warn(
          "{} sends Forwarded or X-Forwarded-* headers, and is no trusted proxy: they count for"
              + " nothing. If it is one of yours, name it in nodley.proxy.trusted.",
          request.getRemoteAddr());
    }
  }
}
