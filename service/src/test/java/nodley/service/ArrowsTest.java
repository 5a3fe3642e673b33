package nodley.service;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArrowsTest {

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
}
