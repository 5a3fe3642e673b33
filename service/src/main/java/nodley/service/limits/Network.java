package nodley.service.limits;

import java.net.Inet6Address;
import java.net.InetAddress;
import java.util.Arrays;
import java.util.HexFormat;

/**
 * The network of an address, which counts as one client: the address itself for IPv4, its /64 for
 * IPv6.
 */
public final class Network {

  /** Whoever has one IPv6 address has all of a network of this many bytes (RFC 6177). */
  private static final int IPV6_BYTES = 8;

  private Network() {}

  /** Returns an IPv4 address as it is, and the /64 of an IPv6 address. */
  public static String of(String address) {
    // What has no colon is IPv4, or no address at all.
    if (address.indexOf(':') < 0) {
      return address;
    }
    try {
      return of(InetAddress.ofLiteral(address));
    } catch (IllegalArgumentException e) {
      return address;
    }
  }

  static String of(InetAddress address) {
    return address instanceof Inet6Address
        ? HexFormat.of().formatHex(Arrays.copyOf(address.getAddress(), IPV6_BYTES)) + "::/64"
        : address.getHostAddress();
  }
}
