package nodley.store;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArrowsTest {

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
        .check(
            new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPackages("nodley.store"));
  }
}
