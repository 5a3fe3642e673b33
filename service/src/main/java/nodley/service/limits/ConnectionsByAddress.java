package nodley.service.limits;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.nio.channels.SocketChannel;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;

/**
 * Counts the open connections of each network, and says whether there may be one more. Trusted
 * proxies, which stand for many, may have any number. Safe for many threads; costs some
 * microseconds a connection.
 */
final class ConnectionsByAddress {

  private final int most;
  private final Predicate<InetAddress> unbounded;
  private final Map<String, List<SocketChannel>> open = new HashMap<>();

  /**
   * Without connections yet.
   *
   * @param most connections of one network
   * @param unbounded addresses that may have more
   */
  ConnectionsByAddress(int most, Predicate<InetAddress> unbounded) {
    this.most = most;
    this.unbounded = unbounded;
  }

  /** True if a connection may stay, which then counts until it is closed. */
  synchronized boolean admits(SocketChannel connection) throws IOException {
    SocketAddress remote = connection.getRemoteAddress();
    if (!(remote instanceof InetSocketAddress address) || unbounded.test(address.getAddress())) {
      return true;
    }
    List<SocketChannel> near =
        open.computeIfAbsent(Network.of(address.getAddress()), _ -> new ArrayList<>());
    if (near.size() >= most) {
      near.removeIf(it -> !it.isOpen());
    }
    return near.size() < most && near.add(connection);
  }

  /** Lets go of connections that were closed since. */
  synchronized void forgetClosed() {
    open.values().removeIf(near -> near.removeIf(it -> !it.isOpen()) && near.isEmpty());
  }
}
