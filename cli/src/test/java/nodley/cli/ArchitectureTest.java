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

  /** A developer's own page is held against a form in a room for that. */
  @Test
  void onlyOneRoomReadsOtherPeoplesPages() {
    noClasses()
        .that()
        .resideOutsideOfPackage("nodley.cli.page..")
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
