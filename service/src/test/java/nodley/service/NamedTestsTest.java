package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The documents name the tests that hold what they promise: these are there, under these names. */
class NamedTestsTest {

  private static final Pattern NAMED = Pattern.compile("`(\\w+(?:Test|[a-z]IT))(?:\\.\\w+)?`");

  @Test
  void testsThatDocumentsNameAreThere() throws IOException {
    assertThat(named()).contains("FullDiskIT").isSubsetOf(tests());
  }

  private static Set<String> named() throws IOException {
    Set<String> named = new TreeSet<>();
    try (Stream<Path> documents =
        Stream.concat(
            Files.list(Repository.file("docs")),
            Files.list(Repository.file("README.md").getParent()))) {
      for (Path document : documents.filter(it -> it.toString().endsWith(".md")).toList()) {
        NAMED
            .matcher(Files.readString(document))
            .results()
            .map((MatchResult it) -> it.group(1))
            .forEach(named::add);
      }
    }
    return named;
  }

  private static Set<String> tests() throws IOException {
    Path root = Repository.file("README.md").getParent();
    Set<String> tests = new TreeSet<>();
    for (String module : Set.of("core", "store", "web", "begin", "cli", "issuer", "service")) {
      Path sources = root.resolve(module).resolve("src/test/java");
      if (Files.exists(sources)) {
        try (Stream<Path> files = Files.walk(sources)) {
          tests.addAll(
              files
                  .map(it -> it.getFileName().toString())
                  .filter(it -> it.endsWith(".java"))
                  .map(it -> it.substring(0, it.length() - ".java".length()))
                  .collect(Collectors.toSet()));
        }
      }
    }
    return tests;
  }
}
