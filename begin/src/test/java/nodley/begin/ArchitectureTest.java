package nodley.begin;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArchitectureTest {

  @Test
  void itKnowsTheCoreAlone() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "nodley.service..", "nodley.store..", "nodley.cli..", "org.springframework..")
        .check(
            new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPackages("nodley.begin"));
  }
}
