package nodley.service.problem;

import com.fasterxml.jackson.annotation.JsonInclude;
import nodley.core.value.Values;
import tools.jackson.core.StreamWriteFeature;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.module.SimpleModule;

/**
 * Writes JSON: records, values of forms, and trees of maps, lists and values. Numbers are always in
 * plain notation. A member of a record that is null or an empty {@code Optional} is left out; those
 * of a map stay.
 */
public final class Json {

  private static final JsonMapper MAPPER =
      JsonMapper.builder()
          .addModule(new SimpleModule().addSerializer(Values.class, new ValuesJson()))
          .enable(StreamWriteFeature.WRITE_BIGDECIMAL_AS_PLAIN)
          .disable(MapperFeature.SORT_PROPERTIES_ALPHABETICALLY)
          .changeDefaultPropertyInclusion(
              _ ->
                  JsonInclude.Value.construct(
                      JsonInclude.Include.NON_ABSENT, JsonInclude.Include.ALWAYS))
          .build();

  private Json() {}

  /** JSON that can stand inside a script element: nothing in it ends the element. */
  public static String inScript(Object tree) {
    return text(tree).replace("<", "\\u003c");
  }

  /** Returns a record or a tree as JSON. */
  public static String text(Object tree) {
    return MAPPER.writeValueAsString(tree);
  }

  /** Returns a record or a tree as JSON in UTF-8. */
  public static byte[] bytes(Object tree) {
    return MAPPER.writeValueAsBytes(tree);
  }
}
