package nodley.store.access;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import java.util.Optional;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Encrypts texts that the database must not tell: AES-256 in GCM (NIST SP 800-38D), with a key that
 * is derived from the one in the data folder. A copy of the database alone cannot be read.
 * Thread-safe.
 */
public final class Encryption {

  private static final String ALGORITHM = "AES/GCM/NoPadding";
  private static final int NONCE_BYTES = 12;
  private static final int TAG_BITS = 128;

  private final SecretKeySpec key;
  private final SecureRandom random = new SecureRandom();

  /**
   * Derives a key.
   *
   * @param purpose what is encrypted with it; another purpose has another key
   */
  public Encryption(SignedTokens tokens, String purpose) {
    this.key = new SecretKeySpec(tokens.derive("encryption " + purpose), "AES");
  }

  /** Returns a text that tells nothing but about how long it was. */
  public String encrypt(String text) {
    byte[] nonce = new byte[NONCE_BYTES];
    random.nextBytes(nonce);
    byte[] secret = run(Cipher.ENCRYPT_MODE, nonce, text.getBytes(StandardCharsets.UTF_8));
    byte[] both = Arrays.copyOf(nonce, NONCE_BYTES + secret.length);
    System.arraycopy(secret, 0, both, NONCE_BYTES, secret.length);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(both);
  }

  /** Returns the text that was encrypted; empty if it was not here, or is damaged. */
  public Optional<String> decrypt(String encrypted) {
    try {
      byte[] both = Base64.getUrlDecoder().decode(encrypted);
      if (both.length < NONCE_BYTES) {
        return Optional.empty();
      }
      byte[] text =
          run(
              Cipher.DECRYPT_MODE,
              Arrays.copyOf(both, NONCE_BYTES),
              Arrays.copyOfRange(both, NONCE_BYTES, both.length));
      return Optional.of(new String(text, StandardCharsets.UTF_8));
    } catch (IllegalArgumentException | IllegalStateException e) {
      return Optional.empty();
    }
  }

  private byte[] run(int mode, byte[] nonce, byte[] bytes) {
    try {
      Cipher cipher = Cipher.getInstance(ALGORITHM);
      cipher.init(mode, key, new GCMParameterSpec(TAG_BITS, nonce));
      return cipher.doFinal(bytes);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("It cannot be encrypted or decrypted.", e);
    }
  }
}
