package nodley.service;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArchitectureTest {

  @Test
  void theServiceKnowsNoClientAndNoSql() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("nodley.cli..", "java.sql..", "org.sqlite..", "com.zaxxer..")
        .check(
            new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPackages("nodley.service"));
  }

  @Test
  void packagesDependOnEachOtherInNoCycle() {
    slices()
        .matching("nodley.service.(*)..")
        .should()
        .beFreeOfCycles()
        .check(
            new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPackages("nodley.service"));
  }
}
