package nodley.service.limits;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.lang.reflect.RecordComponent;
import java.nio.file.Files;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.service.Repository;
import org.junit.jupiter.api.Test;
import org.springframework.boot.context.properties.bind.DefaultValue;

/** docs/running.md lists every setting with the default that it has. */
class SettingsDocTest {

  private static final Pattern LIMIT =
      Pattern.compile("^\\| `([a-z.-]+)` \\| `([0-9A-Za-z]+)` \\|.*\\|.+\\|$", Pattern.MULTILINE);

  private static final Pattern OTHER =
      Pattern.compile("^\\| `(nodley\\.[A-Za-z.-]+[A-Za-z])` \\|", Pattern.MULTILINE);

  @Test
  void everyLimitIsListedWithItsDefault() throws IOException {
    Map<String, String> listed = new LinkedHashMap<>();
    Matcher limit = LIMIT.matcher(Files.readString(Repository.file("docs/running.md")));
    while (limit.find()) {
      listed.put(limit.group(1), limit.group(2));
    }
    Map<String, String> actual = new LinkedHashMap<>();
    collect("", Limits.class, actual);
    assertThat(listed).containsExactlyInAnyOrderEntriesOf(actual);
  }

  @Test
  void everyOtherSettingIsListed() throws IOException {
    assertThat(
            OTHER
                .matcher(Files.readString(Repository.file("docs/running.md")))
                .results()
                .map(it -> it.group(1).replace("NAME", "*")))
        .containsExactlyInAnyOrderElementsOf(
            SettingsReader.known().keySet().stream()
                .filter(it -> !it.startsWith("nodley.limits."))
                .toList());
  }

  @Test
  void aSettingHasAVariableOfItsOwn() {
    assertThat(SettingsReader.variable("nodley.limits.connection.per-address"))
        .isEqualTo("NODLEY_LIMITS_CONNECTION_PERADDRESS");
  }

  private static void collect(String prefix, Class<?> type, Map<String, String> found) {
    for (RecordComponent each : type.getRecordComponents()) {
      String name = prefix + each.getName().replaceAll("([A-Z])", "-$1").toLowerCase(Locale.ROOT);
      if (each.getType().isRecord()) {
        collect(name + ".", each.getType(), found);
      } else {
        // Annotations of a record's components stand at its constructor's parameters, too.
        found.put(name, defaultOf(type, each.getName()));
      }
    }
  }

  private static String defaultOf(Class<?> type, String component) {
    for (var parameter : type.getDeclaredConstructors()[0].getParameters()) {
      if (parameter.getName().equals(component)) {
        return parameter.getAnnotation(DefaultValue.class).value()[0];
      }
    }
    throw new AssertionError(component);
  }
}
