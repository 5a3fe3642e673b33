package nodley.service.limits;

import java.net.InetAddress;
import java.time.Duration;
import java.util.List;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.core.Ordered;
import org.springframework.security.web.util.matcher.IpAddressMatcher;
import org.springframework.stereotype.Component;

/**
 * Configures Tomcat's connector with the limits of connections and requests. Runs after Spring's
 * own settings ({@code server.tomcat.*}) and overrides them.
 */
@Component
final class Connector
    implements WebServerFactoryCustomizer<TomcatServletWebServerFactory>, Ordered, DisposableBean {

  private static final Duration BETWEEN_LOOKS = Duration.ofSeconds(1);

  /** Maximum number of idle request processors that Tomcat keeps for reuse. */
  private static final int PROCESSORS_KEPT = 64;

  /** Bytes of the heap for each connection, of which one that sends a request takes some 150 kB. */
  private static final int HEAP_EACH = 256 << 10;

  /** Bytes of a body that nobody has read, so that the client gets to its reply. */
  private static final int MAX_SWALLOWED = 2 << 20;

  /** Bytes of what is said of one part of a body: the names of its field and its file. */
  private static final int MAX_PART_HEADER = 4_096;

  private final Limits limits;
  private final List<IpAddressMatcher> proxies;
  private final ProxySettings.Headers headers;
  private volatile boolean closing;

  Connector(Limits limits, ProxySettings proxy) {
    this.limits = limits;
    this.proxies = proxy.matchers();
    this.headers = proxy.headers();
  }

  @Override
  public int getOrder() {
    return Ordered.LOWEST_PRECEDENCE;
  }

  @Override
  public void customize(TomcatServletWebServerFactory factory) {
    factory.setProtocol(BoundedProtocol.class.getName());
    factory.addEngineValves(new ForwardedValve(proxies, headers), new ClientConnection());
    factory.addConnectorCustomizers(this::bound);
  }

  private void bound(org.apache.catalina.connector.Connector connector) {
    var protocol = (BoundedProtocol) connector.getProtocolHandler();
    Limits.Connections connections = limits.connection();
    int idle = (int) connections.idle().toMillis();
    int total = Math.min(connections.total(), mostByMemory());
    // Those that give way to others take a moment to close.
    protocol.setMaxConnections(total + total / 4 + 1);
    protocol.setConnectionTimeout(idle);
    protocol.setKeepAliveTimeout(idle);
    protocol.setMaxHttpRequestHeaderSize((int) limits.request().header().toBytes());
    protocol.setMaxSwallowSize(MAX_SWALLOWED);
    protocol.setProcessorCache(PROCESSORS_KEPT);
    connector.setMaxPartCount(limits.request().values());
    connector.setMaxPartHeaderSize(MAX_PART_HEADER);
    protocol.limit(
        new ConnectionsByAddress(total, connections.perAddress(), this::isProxy),
        limits.request().time().toNanos());
    Thread.ofVirtual().name("slow-headers").start(() -> closeSlow(protocol));
  }

  /** All of them may be in the midst of a request; then they take half of the heap or so. */
  private static int mostByMemory() {
    return (int) Math.min(Integer.MAX_VALUE / 2, Runtime.getRuntime().maxMemory() / HEAP_EACH);
  }

  private boolean isProxy(InetAddress address) {
    return proxies.stream().anyMatch(it -> it.matches(address.getHostAddress()));
  }

  private void closeSlow(BoundedProtocol protocol) {
    try {
      while (!closing) {
        Thread.sleep(BETWEEN_LOOKS);
        protocol.closeSlow();
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public void destroy() {
    closing = true;
  }
}
