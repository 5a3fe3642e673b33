package nodley.service.outside;

import java.net.Inet4Address;
import java.net.Inet6Address;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.util.Arrays;
import java.util.Optional;
import org.apache.hc.client5.http.DnsResolver;
import org.apache.hc.client5.http.SystemDefaultDnsResolver;

/**
 * Resolves names of hosts to addresses of the public internet alone. The address that is looked at
 * is the one that is connected to, so that nothing changes between the two. Stateless.
 */
final class PublicAddresses implements DnsResolver {

  private static final int UNSIGNED = 0xff;

  @Override
  public InetAddress[] resolve(String host) throws UnknownHostException {
    InetAddress[] all = SystemDefaultDnsResolver.INSTANCE.resolve(host);
    Optional<InetAddress> privateOne = Arrays.stream(all).filter(it -> !isPublic(it)).findFirst();
    if (privateOne.isPresent()) {
      throw new PrivateAddressException(host, privateOne.get());
    }
    return all;
  }

  @Override
  public String resolveCanonicalHostname(String host) throws UnknownHostException {
    return SystemDefaultDnsResolver.INSTANCE.resolveCanonicalHostname(host);
  }

  /** A host is at an address that is no public one. */
  static final class PrivateAddressException extends UnknownHostException {
    private static final long serialVersionUID = 1;

    PrivateAddressException(String host, InetAddress address) {
      super(
          host
              + " is at "
              + address.getHostAddress()
              + ", an address of a private network or of this machine; set private: true to allow"
              + " it");
    }
  }

  /**
   * True if an address is one of the public internet: by the registries of special-purpose
   * addresses (RFC 6890, and IANA's since).
   */
  static boolean isPublic(InetAddress address) {
    if (address.isAnyLocalAddress()
        || address.isLoopbackAddress()
        || address.isLinkLocalAddress()
        || address.isSiteLocalAddress()
        || address.isMulticastAddress()) {
      return false;
    }
    return switch (address) {
      case Inet4Address four -> isPublic(four.getAddress());
      case Inet6Address six -> isPublicSix(six.getAddress());
      default -> false;
    };
  }

  private static boolean isPublic(byte[] four) {
    int first = four[0] & UNSIGNED;
    int second = four[1] & UNSIGNED;
    int third = four[2] & UNSIGNED;
    boolean shared = first == 100 && second >= 64 && second < 128;
    boolean protocols = first == 192 && second == 0 && (third == 0 || third == 2);
    boolean relay = first == 192 && second == 88 && third == 99;
    boolean tests =
        first == 198 && (second == 18 || second == 19 || second == 51 && third == 100)
            || first == 203 && second == 0 && third == 113;
    return first != 0 && first < 240 && !shared && !protocols && !relay && !tests;
  }

  private static boolean isPublicSix(byte[] six) {
    int first = (six[0] & UNSIGNED) << 8 | six[1] & UNSIGNED;
    int second = (six[2] & UNSIGNED) << 8 | six[3] & UNSIGNED;
    if (first == 0x64 && second == 0xff9b) {
      // An IPv4 address behind a translator (RFC 6052).
      return isEmpty(six, 4, 12) && isPublicFour(six, 12);
    }
    if (first == 0x2002) {
      // An IPv4 address behind a relay (RFC 3056).
      return isPublicFour(six, 2);
    }
    boolean special = first == 0x2001 && (second < 0x200 || second == 0xdb8);
    // Only 2000::/3 is given to anybody.
    return (first & 0xe000) == 0x2000 && !special && first != 0x3fff;
  }

  private static boolean isEmpty(byte[] bytes, int from, int to) {
    for (int i = from; i < to; i++) {
      if (bytes[i] != 0) {
        return false;
      }
    }
    return true;
  }

  private static boolean isPublicFour(byte[] bytes, int from) {
    try {
      return isPublic(InetAddress.getByAddress(Arrays.copyOfRange(bytes, from, from + 4)));
    } catch (UnknownHostException e) {
      throw new IllegalStateException("four bytes are an address", e);
    }
  }
}
