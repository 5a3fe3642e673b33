package nodley.core.input;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/** Decodes UTF-8 strictly: malformed bytes are an error, never replaced. */
final class Utf8 {

  private Utf8() {}

  static Optional<String> decode(byte[] bytes) {
    try {
      return Optional.of(
          StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes)).toString());
    } catch (CharacterCodingException e) {
      return Optional.empty();
    }
  }
}
