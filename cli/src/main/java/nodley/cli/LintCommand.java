package nodley.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.FormWarning;
import nodley.core.file.ServiceTexts;
import nodley.core.file.Shared;
import nodley.core.file.TextsFile;
import nodley.core.form.Form;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.Spec;

/**
 * {@code nodley lint}: reads form files, lists, parts, themes and texts, and tells what is wrong.
 */
@Command(
    name = "lint",
    description =
        "Reads form files, lists, parts, themes and texts, and tells what is wrong; needs no"
            + " service.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley lint vessel.form.yaml", "  nodley lint forms/*.form.yaml --json"})
final class LintCommand implements Callable<Integer> {

  @Spec private CommandSpec spec;

  @ParentCommand private Cli cli;

  @Parameters(arity = "1..*", paramLabel = "FILE", description = "Form files, YAML or JSON.")
  private List<Path> files;

  /** What {@code --json} tells of a file. */
  private record Report(String file, List<FormFileError> errors, List<FormWarning> warnings) {

    static Report of(Linted linted) {
      return new Report(linted.file().path().toString(), linted.errors(), linted.warnings());
    }
  }

  /** What one file came to; a form that another one misses may still be published elsewhere. */
  private record Linted(
      FormText file,
      List<FormFileError> errors,
      List<FormWarning> warnings,
      List<String> missing) {}

  @Override
  public Integer call() {
    List<FormText> texts =
        files.stream().map(path -> FormText.read(path, spec.commandLine())).toList();
    Set<String> names = new HashSet<>();
    List<Form> forms = new ArrayList<>();
    List<Linted> all = new ArrayList<>();
    Shared shared = SharedFiles.near(files);
    // Forms that are read alone are enough for others to know their fields.
    Map<String, Form> known = new LinkedHashMap<>();
    texts.forEach(text -> alone(text, shared).ifPresent(form -> known.put(form.name(), form)));
    for (FormText text : texts) {
      all.add(lint(text, forms, known, shared));
    }
    forms.forEach(form -> names.add(form.name()));
    boolean fine = all.stream().allMatch(linted -> linted.errors().isEmpty());
    if (cli.connection().json()) {
      List<Report> report = all.stream().map(Report::of).toList();
      spec.commandLine().getOut().println(Json.tree(report));
    } else {
      all.forEach(linted -> print(linted, names));
    }
    return fine ? Cli.ACCEPTED : Cli.REFUSED;
  }

  private static Optional<Form> alone(FormText file, Shared shared) {
    try {
      return SharedFiles.kind(file.path()).equals("form")
          ? Optional.of(
              FormFile.read(
                  FormFile.decode(file.bytes()), file.format(), FormRegistry.alone(shared)))
          : Optional.empty();
    } catch (FormFileException e) {
      return Optional.empty();
    }
  }

  private static Linted lint(
      FormText file, List<Form> forms, Map<String, Form> known, Shared shared) {
    try {
      if (SharedFiles.kind(file.path()).equals("texts")) {
        return texts(file, known, shared);
      }
      if (!SharedFiles.kind(file.path()).equals("form")) {
        SharedFiles.read(shared, file.path(), file.bytes());
        return new Linted(file, List.of(), List.of(), List.of());
      }
      String text = FormFile.decode(file.bytes());
      Form form = FormFile.read(text, file.format(), FormRegistry.alone(shared));
      boolean complete = known.keySet().containsAll(form.refersTo());
      if (complete) {
        form = FormFile.read(text, file.format(), FormRegistry.of(known, shared));
      }
      forms.add(form);
      return new Linted(file, List.of(), FormWarning.of(form), form.refersTo());
    } catch (FormFileException e) {
      return new Linted(file, e.errors(), List.of(), List.of());
    }
  }

  /** Texts are read against their form, which must be among the files. */
  private static Linted texts(FormText file, Map<String, Form> known, Shared shared)
      throws FormFileException {
    TextsFile.Name name = SharedFiles.texts(file.path()).orElseThrow();
    if (name.isOfService()) {
      ServiceTexts.read(FormFile.decode(file.bytes()), file.format(), name.language());
      return new Linted(file, List.of(), List.of(), List.of());
    }
    Form form = known.get(name.form());
    if (form != null) {
      TextsFile.read(
          FormFile.decode(file.bytes()),
          file.format(),
          form,
          name.language(),
          FormRegistry.of(known, shared));
    }
    return new Linted(file, List.of(), List.of(), form == null ? List.of(name.form()) : List.of());
  }

  private void print(Linted linted, Set<String> names) {
    for (FormFileError error : linted.errors()) {
      linted.file().print(Json.tree(error), spec.commandLine().getErr());
    }
    if (linted.errors().isEmpty()) {
      List<String> elsewhere =
          linted.missing().stream().filter(name -> !names.contains(name)).toList();
      String note =
          elsewhere.isEmpty()
              ? ""
              : " (it refers to "
                  + String.join(", ", elsewhere)
                  + ", which is not among these files)";
      spec.commandLine().getOut().println(linted.file().path() + ": no errors" + note);
      PublishReport.printWarnings(Json.tree(linted.warnings()), spec.commandLine().getOut());
    }
  }
}
