package nodley.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArchitectureTest {

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

  /**
   * What is a developer's own is read where a form is begun from it, or a page held against one.
   */
  @Test
  void onlyTheRoomsForThatReadOtherPeoplesFiles() {
    noClasses()
        .that()
        .resideOutsideOfPackages("nodley.cli.start..", "nodley.cli.page..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("java.sql..", "org.jsoup..", "org.apache.commons.csv..")
        .check(CLIENT);
  }

  @Test
  void packagesDependOnEachOtherInNoCycle() {
    slices().matching("nodley.cli.(*)..").should().beFreeOfCycles().check(CLIENT);
  }
}
