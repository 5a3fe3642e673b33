package nodley.service.outside;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.UnknownHostException;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which addresses are public, by IANA's registries of special-purpose addresses. */
class PublicAddressesTest {

  private static boolean isPublic(String address) throws UnknownHostException {
    return PublicAddresses.isPublic(InetAddress.getByName(address));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "0.0.0.0",
        "0.1.2.3",
        "10.0.0.1",
        "100.64.0.1",
        "100.127.255.255",
        "127.0.0.1",
        "127.255.255.254",
        "169.254.169.254",
        "172.16.0.1",
        "172.31.255.255",
        "192.0.0.8",
        "192.0.2.1",
        "192.88.99.1",
        "192.168.1.1",
        "198.18.0.1",
        "198.19.255.255",
        "198.51.100.7",
        "203.0.113.9",
        "224.0.0.1",
        "240.0.0.1",
        "255.255.255.255",
        "::",
        "::1",
        "::ffff:127.0.0.1",
        "::ffff:10.0.0.1",
        "::127.0.0.1",
        "64:ff9b::10.0.0.1",
        "64:ff9b::7f00:1",
        "100::1",
        "2001::1",
        "2001:db8::1",
        "2002:7f00:1::",
        "2002:a00:1::1",
        "3fff::1",
        "fc00::1",
        "fd12::1",
        "fe80::1",
        "fec0::1",
        "ff02::1",
        "5f00::1"
      })
  void theseAreNot(String address) throws UnknownHostException {
    assertThat(isPublic(address)).isFalse();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "1.1.1.1",
        "9.255.255.255",
        "11.0.0.1",
        "100.63.255.255",
        "100.128.0.1",
        "126.255.255.255",
        "128.0.0.1",
        "172.15.255.255",
        "172.32.0.1",
        "192.0.1.1",
        "198.17.0.1",
        "198.20.0.1",
        "223.255.255.255",
        "::ffff:8.8.8.8",
        "2001:4860:4860::8888",
        "2002:808:808::1",
        "64:ff9b::8.8.8.8",
        "2606:4700::1111"
      })
  void theseAre(String address) throws UnknownHostException {
    assertThat(isPublic(address)).isTrue();
  }
}
