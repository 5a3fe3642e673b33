package nodley.cli;

import com.fasterxml.jackson.annotation.JsonInclude;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.json.JsonMapper;

/** Writes records as JSON the way the service does: what is null or empty is left out. */
final class Json {

  private static final JsonMapper MAPPER =
      JsonMapper.builder()
          .disable(MapperFeature.SORT_PROPERTIES_ALPHABETICALLY)
          .changeDefaultPropertyInclusion(
              _ ->
                  JsonInclude.Value.construct(
                      JsonInclude.Include.NON_ABSENT, JsonInclude.Include.ALWAYS))
          .build();

  private Json() {}

  /** Returns a record, a list or a map as a tree. */
  static JsonNode tree(Object value) {
    return MAPPER.valueToTree(value);
  }
}
