package nodley.store.upload;

import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What the bytes of one request must come to (tus 1.0.0, checksum).
 *
 * @param algorithm one of {@link #ALGORITHMS}
 */
public record Checksum(String algorithm, byte[] digest) {

  /** As the protocol names them; SHA-1 is the one that every client has. */
  public static final List<String> ALGORITHMS = List.of("sha1", "sha256");

  /** Reads {@code sha1 Kq5sNclPz7QV2+lfQIuc6R7oRu0=}; empty if it says nothing of the kind. */
  public static Optional<Checksum> read(String header) {
    String[] parts = header.strip().split(" ", 2);
    String algorithm = parts[0].toLowerCase(Locale.ROOT);
    if (parts.length < 2 || !ALGORITHMS.contains(algorithm)) {
      return Optional.empty();
    }
    try {
      byte[] digest = Base64.getDecoder().decode(parts[1].strip());
      return digest.length == begin(algorithm).getDigestLength()
          ? Optional.of(new Checksum(algorithm, digest))
          : Optional.empty();
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }

  MessageDigest begin() {
    return begin(algorithm);
  }

  private static MessageDigest begin(String algorithm) {
    try {
      return MessageDigest.getInstance(algorithm.equals("sha1") ? "SHA-1" : "SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
