package nodley.service.submission;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;

/** What is compared with where there is no password has the parameters of a real digest. */
class NoSecretTest {

  private static final Argon2PasswordEncoder ARGON2 =
      Argon2PasswordEncoder.defaultsForSpringSecurity_v5_8();

  @Test
  void itCostsAsMuchAsAnyOther() {
    String made = "{argon2id}" + ARGON2.encode("a grey heron at low tide");
    String saltAndHash = "\\$[A-Za-z0-9+/]+\\$[A-Za-z0-9+/]+$";
    assertThat(Secrets.OF_NO_SECRET).hasSameSizeAs(made);
    assertThat(Secrets.OF_NO_SECRET.replaceFirst(saltAndHash, ""))
        .isEqualTo(made.replaceFirst(saltAndHash, ""));
    String digest = Secrets.OF_NO_SECRET.replace("{argon2id}", "");
    assertThat(ARGON2.upgradeEncoding(digest)).isFalse();
    assertThat(ARGON2.matches("", digest)).isFalse();
  }
}
