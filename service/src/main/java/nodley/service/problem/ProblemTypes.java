package nodley.service.problem;

import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.Properties;

/**
 * Descriptions of the problem types: RFC 9457, section 3.1.1, wants their addresses to lead to
 * documentation.
 */
public final class ProblemTypes {

  private static final Properties MEANINGS = load();

  private ProblemTypes() {}

  private static Properties load() {
    Properties meanings = new Properties();
    try (InputStream in =
            ProblemTypes.class.getResourceAsStream("/nodley/service/problems.properties");
        Reader reader = new InputStreamReader(in, StandardCharsets.UTF_8)) {
      meanings.load(reader);
      return meanings;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** The meaning of a type, such as {@code taken}; nothing if there is no such type. */
  public static Optional<String> meaning(String type) {
    return Optional.ofNullable(MEANINGS.getProperty(type));
  }
}
