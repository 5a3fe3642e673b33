package nodley.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.file.FileName;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code nodley publish}: publishes form files, their texts, and the lists, parts and themes that
 * they share.
 */
@Command(
    name = "publish",
    description =
        "Publishes form files, their texts, and the lists, parts and themes they share: all of"
            + " them, or, if one cannot be, none.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley publish vessel.form.yaml",
      "  nodley publish --force rules vessel.form.yaml",
      "  nodley publish lists/*.yaml parts/*.yaml forms/*.form.yaml texts/*.yaml"
    })
final class PublishCommand extends ServiceCommand {

  @Parameters(arity = "1..*", paramLabel = "FILE", description = "Form files, YAML or JSON.")
  private List<Path> files;

  @Option(
      names = "--force",
      paramLabel = "rules",
      description =
          "With rules: publishes although stored records violate the new rules, which then apply to"
              + " new submissions and edits only.")
  private Force force;

  /** What may be forced. */
  private enum Force {
    rules
  }

  @Override
  public Integer call() {
    List<Map<String, String>> all = new ArrayList<>();
    Map<String, FormText> byName = new LinkedHashMap<>();
    boolean fine = true;
    for (Path path : files) {
      FormText file = FormText.read(path, commands());
      String name = path.getFileName().toString();
      if (byName.putIfAbsent(name, file) != null) {
        throw new CommandLine.ParameterException(
            commands(), "Two of the files are called " + name + ".");
      }
      try {
        all.add(Map.of("name", name, "text", FormFile.decode(file.bytes())));
        if (FileName.of(name).kind() == FileName.Kind.FORM) {
          LocalForm.read(file, files);
        }
      } catch (FormFileException e) {
        fine = false;
        print(file, FormText.json(e));
      }
    }
    if (!fine) {
      if (!json()) {
        commands().getErr().println("Nothing was published.");
      }
      return Cli.REFUSED;
    }
    try {
      JsonNode reply =
          client()
              .postFile(
                  "/files" + query(),
                  "application/json",
                  JsonMapper.shared().writeValueAsBytes(Map.of("files", all)));
      if (!printedJson(reply)) {
        print(reply);
      }
      return Cli.ACCEPTED;
    } catch (ServiceRefusal told) {
      if (json() || !told.problem().has("files")) {
        throw told;
      }
      for (JsonNode wrong : told.problem().path("files")) {
        print(byName.get(wrong.path("file").asString()), wrong.path("errors"));
      }
      commands().getErr().println("Nothing was published.");
      return Cli.REFUSED;
    }
  }

  private String query() {
    return force == null ? "" : "?force=" + force;
  }

  /** A line for each file, then what it did to tables and records. */
  private void print(JsonNode reply) {
    for (JsonNode file : reply.path("files")) {
      out().println(what(file) + file.path("change").asString());
      PublishReport.printWarnings(file.path("warnings"), out());
    }
    PublishReport.print(reply, out());
    if (!reply.path("fallsShort").isEmpty()) {
      out()
          .println(
              "The new rules apply from now on; these stored records violate them, until they are"
                  + " edited:");
      PublishReport.printObjections(reply.path("fallsShort"), out());
    }
  }

  /** What a line about a file begins with: {@code vessel: revision 2, }, {@code list ports: }. */
  private static String what(JsonNode file) {
    String name = file.path("name").asString();
    String kind = file.path("kind").asString();
    int language = name.lastIndexOf('.') + 1;
    return switch (kind) {
      case "form" -> PublishReport.revision(file, name) + ", ";
      case "texts" ->
          "texts of " + name.substring(0, language - 1) + " in " + name.substring(language) + ": ";
      default -> kind + " " + name + ": ";
    };
  }

  private void print(FormText file, JsonNode errors) {
    if (printedJson(file.withErrors(errors))) {
      return;
    }
    errors.forEach(error -> file.print(error, commands().getErr()));
  }
}
