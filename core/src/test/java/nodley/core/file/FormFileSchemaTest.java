package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import nodley.core.Repository;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** The schema that ships; web/page/test/form-file.test.ts holds it against form files. */
class FormFileSchemaTest {

  private static final JsonMapper JSON =
      JsonMapper.builder().enable(SerializationFeature.ORDER_MAP_ENTRIES_BY_KEYS).build();

  /** What is read now is written beside the build; docs has a copy of it, for editors. */
  @Test
  void theSchemaInTheDocsIsTheOneOfTheReaders() throws Exception {
    String now = JSON.writerWithDefaultPrettyPrinter().writeValueAsString(FormFileSchema.json());
    Files.writeString(Repository.file("core/target/form-file.schema.json"), now);
    JsonNode docs = JSON.readTree(Files.readString(Repository.file("docs/form-file.schema.json")));
    assertThat(JSON.readTree(now)).as("cp core/target/form-file.schema.json docs/").isEqualTo(docs);
  }
}
