package nodley.service.problem;

import tools.jackson.core.StreamWriteFeature;
import tools.jackson.databind.json.JsonMapper;

/** Writes JSON trees; numbers always in plain notation. */
public final class Json {

  private static final JsonMapper MAPPER =
      JsonMapper.builder().enable(StreamWriteFeature.WRITE_BIGDECIMAL_AS_PLAIN).build();

  private Json() {}

  /** JSON that can stand inside a script element: nothing in it ends the element. */
  public static String inScript(Object tree) {
    return MAPPER.writeValueAsString(tree).replace("<", "\\u003c");
  }

  /** Returns a tree of maps, lists and values as JSON in UTF-8. */
  public static byte[] bytes(Object tree) {
    return MAPPER.writeValueAsBytes(tree);
  }
}
