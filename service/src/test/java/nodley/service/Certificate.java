package nodley.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.util.Base64;
import java.util.List;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;

/** A certificate for localhost that nobody but the tests trusts, as PEM files, and its trust. */
record Certificate(Path certificate, Path key, SSLContext trust) {

  private static final String PASSWORD = "for-tests-only";

  static Certificate in(Path folder) {
    try {
      Path store = folder.resolve("store.p12");
      List<String> command =
          List.of(
              Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
              "-genkeypair",
              "-alias",
              "it",
              "-keyalg",
              "EC",
              "-dname",
              "CN=localhost",
              "-ext",
              "SAN=dns:localhost,ip:127.0.0.1",
              "-validity",
              "2",
              "-storetype",
              "PKCS12",
              "-storepass",
              PASSWORD,
              "-keystore",
              store.toString());
      if (new ProcessBuilder(command).inheritIO().start().waitFor() != 0) {
        throw new AssertionError("keytool failed");
      }
      KeyStore keys = KeyStore.getInstance(store.toFile(), PASSWORD.toCharArray());
      byte[] certificate = keys.getCertificate("it").getEncoded();
      byte[] key = keys.getKey("it", PASSWORD.toCharArray()).getEncoded();
      TrustManagerFactory trust =
          TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
      trust.init(keys);
      SSLContext context = SSLContext.getInstance("TLS");
      KeyManagerFactory identity =
          KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
      identity.init(keys, PASSWORD.toCharArray());
      // Whoever has it is somebody with this certificate, and trusts nobody else.
      context.init(identity.getKeyManagers(), trust.getTrustManagers(), null);
      return new Certificate(
          pem(folder.resolve("it.crt"), "CERTIFICATE", certificate),
          pem(folder.resolve("it.key"), "PRIVATE KEY", key),
          context);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (GeneralSecurityException | InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  /** RFC 7468. */
  private static Path pem(Path file, String what, byte[] bytes) throws IOException {
    return Files.writeString(
        file,
        "-----BEGIN "
            + what
            + "-----\n"
            + Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(bytes)
            + "\n-----END "
            + what
            + "-----\n");
  }
}
