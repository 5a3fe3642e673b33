package nodley.store.access;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import nodley.store.folder.Permissions;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * Signs texts that are handed out (cursors, names of pages) and verifies them when they come back:
 * HMAC-SHA-256 (RFC 2104), truncated to 128 bits. The key is in a file of its own in the data
 * folder: tokens survive a restart, and a backup of the database is not enough to forge one.
 * Thread-safe.
 */
public final class SignedTokens {

  /** In a data folder. */
  public static final String FILE = "nodley.key";

  private static final String ALGORITHM = "HmacSHA256";
  private static final int SEAL = 16;

  private final SecretKeySpec key;

  /** Takes the key from a file, which is made if it is not there. */
  public SignedTokens(Path file, Database database, BatchWriter writer) throws IOException {
    key = new SecretKeySpec(secret(file, database, writer), ALGORITHM);
  }

  /** The key of the folder; data of an earlier Nodley had it in the database. */
  private static byte[] secret(Path file, Database database, BatchWriter writer)
      throws IOException {
    Optional<String> before =
        database.read(
            on ->
                Sql.first(
                    on,
                    row -> row.getString(1),
                    "SELECT value FROM nodley_settings WHERE name = 'seal'"));
    if (!Files.exists(file)) {
      Permissions.write(file, before.orElseGet(SignedTokens::fresh));
    }
    if (before.isPresent()) {
      writer.write(on -> Sql.run(on, "DELETE FROM nodley_settings WHERE name = 'seal'"));
    }
    return Base64.getDecoder().decode(Files.readString(file).strip());
  }

  private static String fresh() {
    byte[] fresh = new byte[32];
    new SecureRandom().nextBytes(fresh);
    return Base64.getEncoder().encodeToString(fresh);
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

  /** A digest by which bytes are known again, and from which nobody can guess them; 64 digits. */
  public String digest(String purpose, byte[] bytes) {
    return HexFormat.of().formatHex(mac(purpose, bytes));
  }

  /** Returns the 32 bytes of another key, for this purpose alone. */
  byte[] derive(String purpose) {
    return mac(purpose, new byte[0]);
  }

  private byte[] seal(String purpose, byte[] bytes) {
    return Arrays.copyOf(mac(purpose, bytes), SEAL);
  }

  private byte[] mac(String purpose, byte[] bytes) {
    try {
      Mac mac = Mac.getInstance(ALGORITHM);
      mac.init(key);
      mac.update(purpose.getBytes(StandardCharsets.UTF_8));
      mac.update((byte) 0);
      return mac.doFinal(bytes);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("every JDK has " + ALGORITHM, e);
    }
  }
}
