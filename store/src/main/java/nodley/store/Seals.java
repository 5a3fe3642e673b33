package nodley.store;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Hands texts out and knows them again: HMAC-SHA-256 (RFC 2104), cut to 128 bits, under a key of
 * the data folder, so that they outlive a restart and nobody else can make one.
 */
public final class Seals {

  private static final String ALGORITHM = "HmacSHA256";
  private static final int SEAL = 16;

  private final SecretKeySpec key;

  Seals(Database database, Writer writer) {
    key = new SecretKeySpec(secret(database, writer), ALGORITHM);
  }

  private static byte[] secret(Database database, Writer writer) {
    byte[] fresh = new byte[32];
    new SecureRandom().nextBytes(fresh);
    String text =
        writer.write(
            on -> {
              Sql.run(
                  on,
                  "INSERT INTO nodley_settings (name, value) VALUES ('seal', ?)"
                      + " ON CONFLICT (name) DO NOTHING",
                  Base64.getEncoder().encodeToString(fresh));
              return Sql.first(
                      on,
                      row -> row.getString(1),
                      "SELECT value FROM nodley_settings WHERE name = 'seal'")
                  .orElseThrow();
            });
    return Base64.getDecoder().decode(text);
  }

  /**
   * Seals a text.
   *
   * @param purpose what it is good for; it cannot be opened for another
   */
  public String seal(String purpose, String text) {
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    byte[] seal = seal(purpose, bytes);
    byte[] both = Arrays.copyOf(seal, SEAL + bytes.length);
    System.arraycopy(bytes, 0, both, SEAL, bytes.length);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(both);
  }

  /** The text that was sealed for this purpose; nothing if it was not, or not here. */
  public Optional<String> open(String purpose, String sealed) {
    byte[] both;
    try {
      both = Base64.getUrlDecoder().decode(sealed);
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
    if (both.length < SEAL) {
      return Optional.empty();
    }
    byte[] bytes = Arrays.copyOfRange(both, SEAL, both.length);
    boolean right = MessageDigest.isEqual(seal(purpose, bytes), Arrays.copyOf(both, SEAL));
    return right ? Optional.of(new String(bytes, StandardCharsets.UTF_8)) : Optional.empty();
  }

  private byte[] seal(String purpose, byte[] bytes) {
    try {
      Mac mac = Mac.getInstance(ALGORITHM);
      mac.init(key);
      mac.update(purpose.getBytes(StandardCharsets.UTF_8));
      mac.update((byte) 0);
      return Arrays.copyOf(mac.doFinal(bytes), SEAL);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every JDK has " + ALGORITHM, e);
    }
  }
}
