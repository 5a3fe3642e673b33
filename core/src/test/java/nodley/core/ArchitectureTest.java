package nodley.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

class ArchitectureTest {

  @Test
  void theCoreKnowsNoSpringNoDatabaseNoHttpAndNoOtherRoom() {
    JavaClasses core =
        new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("nodley.core");
    classes()
        .that()
        .resideInAPackage("nodley.core..")
        .should()
        .onlyDependOnClassesThat()
        .resideInAnyPackage(
            "nodley.core..",
            "java.io",
            "java.lang..",
            "java.math",
            "java.nio",
            "java.nio.charset",
            "java.text",
            "java.time..",
            "java.util..",
            "com.google.re2j",
            "com.ibm.icu.lang",
            "com.ibm.icu.number",
            "com.ibm.icu.text",
            "com.ibm.icu.util",
            "org.apache.commons.text.similarity",
            "org.snakeyaml.engine..",
            "tools.jackson.core..")
        .check(core);
  }

  @Test
  void packagesDependOnEachOtherInNoCycle() {
    slices()
        .matching("nodley.core.(*)..")
        .should()
        .beFreeOfCycles()
        .check(
            new ClassFileImporter()
                .withImportOption(new ImportOption.DoNotIncludeTests())
                .importPackages("nodley.core"));
  }
}
