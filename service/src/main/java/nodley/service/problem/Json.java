package nodley.service.problem;

import tools.jackson.core.StreamWriteFeature;
import tools.jackson.databind.json.JsonMapper;

/** Writes JSON trees; numbers always in plain notation. */
public final class Json {

  private static final JsonMapper MAPPER =
      JsonMapper.builder().enable(StreamWriteFeature.WRITE_BIGDECIMAL_AS_PLAIN).build();

  private Json() {}

  public static byte[] bytes(Object tree) {
    return MAPPER.writeValueAsBytes(tree);
  }
}
