package nodley.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArrowsTest {

  private static final JavaClasses CLIENT =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPackages("nodley.cli");

  @Test
  void theClientKnowsTheCoreAndHttpOnly() {
    noClasses()
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("nodley.service..", "nodley.store..", "org.springframework..")
        .check(CLIENT);
  }

  /** A developer's own database is read where a form is begun from it, and nowhere else. */
  @Test
  void onlyTheRoomThatBeginsFormsReadsOtherPeoplesFiles() {
    noClasses()
        .that()
        .resideOutsideOfPackage("nodley.cli.start..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("java.sql..", "org.jsoup..", "org.apache.commons.csv..")
        .check(CLIENT);
  }
}
