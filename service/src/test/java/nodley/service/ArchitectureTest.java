package nodley.service;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArchitectureTest {

  private static final JavaClasses SERVICE =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPackages("nodley.service");

  @Test
  void theServiceKnowsNoClientAndNoSql() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("nodley.cli..", "java.sql..", "org.sqlite..", "com.zaxxer..")
        .check(SERVICE);
  }

  @Test
  void packagesDependOnEachOtherInNoCycle() {
    slices().matching("nodley.service.(*)..").should().beFreeOfCycles().check(SERVICE);
  }
}
