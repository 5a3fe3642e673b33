package nodley.store;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ArchitectureTest {

  private static final JavaClasses STORE =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPackages("nodley.store");

  @Test
  void theStoreKnowsTheCoreAndNothingAboveIt() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "nodley.service..",
            "nodley.cli..",
            "org.springframework..",
            "jakarta..",
            "java.net.http..")
        .check(STORE);
  }

  @Test
  void packagesDependOnEachOtherInNoCycle() {
    slices().matching("nodley.store.(*)..").should().beFreeOfCycles().check(STORE);
    noClasses()
        .that()
        .resideInAPackage("nodley.store.*..")
        .should()
        .dependOnClassesThat()
        .resideInAPackage("nodley.store")
        .because("the root opens all other packages")
        .check(STORE);
  }

  @Test
  void onlyOnePackageUsesTheDriverOfTheEngine() {
    noClasses()
        .that()
        .resideOutsideOfPackage("nodley.store.sqlite")
        .should()
        .dependOnClassesThat()
        .resideInAPackage("org.sqlite..")
        .check(STORE);
  }

  /** By the texts in the class files, for no rule sees what is within a string. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "STRICT",
        "ROWID",
        "PRAGMA",
        "pragma_",
        "sqlite_",
        "fts5",
        "json_",
        "octet_length",
        ".rowid",
        "->>"
      })
  void onlyOnePackageHasTheEnginesOwnSql(String own) {
    assertThat(STORE.stream().filter(it -> hasText(it, own)))
        .as(own)
        .isNotEmpty()
        .allMatch(it -> it.getPackageName().equals("nodley.store.sqlite"));
  }

  private static boolean hasText(JavaClass type, String text) {
    try (InputStream in = type.getSource().orElseThrow().getUri().toURL().openStream()) {
      return new String(in.readAllBytes(), StandardCharsets.ISO_8859_1).contains(text);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
