package nodley.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArrowsTest {

  @Test
  void theClientKnowsTheCoreAndHttpOnly() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "nodley.service..", "nodley.store..", "org.springframework..", "java.sql..")
        .check(
            new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPackages("nodley.cli"));
  }
}
