package nodley.store;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

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
}
