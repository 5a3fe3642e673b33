package nodley.store.access;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.HexFormat;
import java.util.Set;
import java.util.TreeSet;

/** Random secrets, and how they and lists of names are stored. Thread-safe. */
final class Digests {

  /** Never used itself: to clone it costs less than to look it up among the providers. */
  private static final MessageDigest SHA_256 = sha256();

  private static final HexFormat HEX = HexFormat.of();
  private static final SecureRandom RANDOM = new SecureRandom();
  private static final int SECRET_BYTES = 24;
  private static final int ID_BYTES = 8;

  private Digests() {}

  /** Makes a secret of 192 random bits. Too many to be guessed: a plain digest of it is enough. */
  static String newSecret() {
    byte[] bytes = new byte[SECRET_BYTES];
    RANDOM.nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  /** Makes a name of 16 random digits for what is no secret. */
  static String newId() {
    byte[] bytes = new byte[ID_BYTES];
    RANDOM.nextBytes(bytes);
    return HEX.formatHex(bytes);
  }

  /** Returns the SHA-256 of a secret, in hexadecimal digits. */
  static String of(String secret) {
    try {
      MessageDigest digest = (MessageDigest) SHA_256.clone();
      return HEX.formatHex(digest.digest(secret.getBytes(StandardCharsets.UTF_8)));
    } catch (CloneNotSupportedException e) {
      throw new IllegalStateException("The JDK's SHA-256 can be cloned.", e);
    }
  }

  private static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("Every JDK has SHA-256.", e);
    }
  }

  /** Reads a list of names that stand apart by spaces. */
  static Set<String> words(String text) {
    return text.isEmpty() ? Set.of() : Set.of(text.split(" "));
  }

  /** Writes what {@link #words} reads. */
  static String text(Set<String> words) {
    return String.join(" ", new TreeSet<>(words));
  }
}
