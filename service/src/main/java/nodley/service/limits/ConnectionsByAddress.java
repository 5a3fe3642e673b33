package nodley.service.limits;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.channels.SocketChannel;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * Counts open connections by network, and admits or rejects new ones. If the total is reached, the
 * oldest connection of the network that has most is closed for one of a network that has fewer, so
 * that one client cannot keep out others. Trusted proxies are not limited. Thread-safe; some
 * microseconds a connection.
 */
final class ConnectionsByAddress {

  private final int total;
  private final int most;
  private final Predicate<InetAddress> trusted;
  private final Map<String, Deque<SocketChannel>> open = new HashMap<>();

  /** Those of trusted proxies, and those that give way and are not closed yet. */
  private final List<SocketChannel> others = new ArrayList<>();

  /**
   * Without connections yet.
   *
   * @param total connections in all
   * @param most connections of one network
   * @param trusted addresses that may have more
   */
  ConnectionsByAddress(int total, int most, Predicate<InetAddress> trusted) {
    this.total = total;
    this.most = most;
    this.trusted = trusted;
  }

  /** True if a connection may stay, which then counts until it is closed. */
  synchronized boolean admits(SocketChannel connection) throws IOException {
    if (!(connection.getRemoteAddress() instanceof InetSocketAddress address)) {
      return true;
    }
    if (trusted.test(address.getAddress())) {
      return others.add(connection);
    }
    String network = Network.of(address.getAddress());
    if (count(network) >= most || count() >= total) {
      forgetClosed();
    }
    if (count(network) >= most || count() >= total && !makesRoom(count(network))) {
      return false;
    }
    return open.computeIfAbsent(network, _ -> new ArrayDeque<>()).add(connection);
  }

  private int count(String network) {
    Deque<SocketChannel> near = open.get(network);
    return near == null ? 0 : near.size();
  }

  private int count() {
    return others.size() + open.values().stream().mapToInt(Deque::size).sum();
  }

  /** Has the oldest of the largest network give way, if that has clearly more than these. */
  private boolean makesRoom(int having) throws IOException {
    Optional<Deque<SocketChannel>> largest =
        open.values().stream().max(Comparator.comparingInt(Deque::size));
    if (largest.isEmpty() || largest.get().size() <= having + 1) {
      return false;
    }
    SocketChannel oldest = largest.get().poll();
    others.add(oldest);
    if (oldest.isOpen()) {
      // As if the client sent no more: whoever reads from it ends, and Tomcat closes it. What is
      // being answered is answered.
      oldest.shutdownInput();
    }
    return true;
  }

  /** Forgets connections that have been closed. */
  synchronized void forgetClosed() {
    others.removeIf(it -> !it.isOpen());
    open.values().removeIf(near -> near.removeIf(it -> !it.isOpen()) && near.isEmpty());
  }
}
