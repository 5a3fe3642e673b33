package nodley.service.limits;

import java.net.URI;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/**
 * An address outside that is called by POST, as it is set.
 *
 * @param url http or https, without a user
 * @param secret what its calls are signed with: {@code whsec_} and 24 to 64 bytes in Base64; empty
 *     if they are not
 * @param formerSecret a second one, with which they are signed, too, while the secret changes
 * @param headers what each call has besides
 * @param isPrivate true if it may be at an address of a private network, or of this machine
 */
public record OutsideAddress(
    String url,
    String secret,
    String formerSecret,
    Map<String, String> headers,
    boolean isPrivate) {

  /** Names of header fields: RFC 9110, section 5.6.2. */
  private static final Pattern HEADER = Pattern.compile("[!#$%&'*+.^_`|~0-9A-Za-z-]+");

  /** Visible characters, spaces and tabs: RFC 9110, section 5.5. */
  private static final Pattern HEADER_VALUE = Pattern.compile("[\\t\\x20-\\x7e]*");

  private static final String SECRET = "whsec_";
  private static final int LEAST_BYTES = 24;
  private static final int MOST_BYTES = 64;

  /**
   * Checks what is set.
   *
   * @param at the settings' name for it, such as {@code nodley.outlets.office}
   * @throws IllegalArgumentException in a sentence for whoever set it
   */
  void check(String at) {
    checkUrl(at + ".url", url);
    checkSecret(at + ".secret", secret);
    checkSecret(at + ".former-secret", formerSecret);
    headers.forEach(
        (header, value) -> {
          if (!HEADER.matcher(header).matches() || !HEADER_VALUE.matcher(value).matches()) {
            throw new IllegalArgumentException(
                at + ".headers has \"" + header + "\", which is no header of HTTP as it is set.");
          }
        });
  }

  private static void checkUrl(String setting, String url) {
    try {
      URI uri = URI.create(url);
      if (List.of("http", "https").contains(uri.getScheme())
          && uri.getHost() != null
          && uri.getUserInfo() == null) {
        return;
      }
    } catch (IllegalArgumentException e) {
      // It is told of below.
    }
    throw new IllegalArgumentException(
        setting
            + (url.isEmpty() ? " is missing" : " is \"" + url + "\"")
            + "; it must be an address such as https://office.example/visits.");
  }

  private static void checkSecret(String setting, String secret) {
    if (secret.isEmpty()) {
      return;
    }
    try {
      int bytes = key(secret).length;
      if (secret.startsWith(SECRET) && bytes >= LEAST_BYTES && bytes <= MOST_BYTES) {
        return;
      }
    } catch (IllegalArgumentException e) {
      // It is told of below, without showing it.
    }
    throw new IllegalArgumentException(
        setting
            + " must be whsec_ and 24 to 64 bytes in Base64, such as"
            + " echo whsec_$(openssl rand -base64 32) writes.");
  }

  private static byte[] key(String secret) {
    return Base64.getDecoder().decode(secret.replaceFirst("^" + SECRET, ""));
  }

  /** Returns the keys that calls are signed with, the current one first; none if there is none. */
  public List<byte[]> keys() {
    return List.of(secret, formerSecret).stream()
        .filter(it -> !it.isEmpty())
        .map(OutsideAddress::key)
        .toList();
  }
}
