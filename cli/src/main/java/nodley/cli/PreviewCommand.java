package nodley.cli;

import java.nio.file.Path;
import java.util.List;
import nodley.core.file.FormFileException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/**
 * {@code nodley preview}: tells what publishing would do to tables and stored records; nothing is
 * changed.
 */
@Command(
    name = "preview",
    description =
        "Shows what publishing a form file, a list or a part would do to the tables and to what"
            + " is kept; nothing is changed.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley preview vessel.form.yaml", "  nodley preview lists/services.list.yaml"})
final class PreviewCommand extends ServiceCommand {

  @Parameters(paramLabel = "FILE", description = "A form file, a list or a part; YAML or JSON.")
  private Path path;

  @Override
  public Integer call() {
    FormText file = FormText.read(path, commands());
    try {
      String kind = SharedFiles.kind(path);
      return switch (kind) {
        case "form" -> {
          String form = LocalForm.read(file, List.of(path)).name();
          yield show(form, file, "/forms/" + Client.part(form));
        }
        case "texts" -> {
          out().println("Texts change no tables; `nodley texts` tells which are used.");
          yield Cli.ACCEPTED;
        }
        default -> {
          String name = SharedFiles.name(path);
          yield show(kind + " " + name, file, "/" + kind + "s/" + Client.part(name));
        }
      };
    } catch (FormFileException e) {
      errors(file, FormText.json(e));
      return Cli.REFUSED;
    } catch (ServiceRefusal told) {
      if (json() || !told.problem().has("errors")) {
        throw told;
      }
      errors(file, told.problem().path("errors"));
      return Cli.REFUSED;
    }
  }

  private int show(String name, FormText file, String path) {
    JsonNode outcome =
        client().postFile(path + "/preview", file.format().mediaType(), file.bytes());
    boolean objections = !outcome.path("objections").isEmpty();
    boolean falls = !outcome.path("fallsShort").isEmpty();
    if (!printedJson(outcome)) {
      out().println(name + ": " + words(outcome));
      PublishReport.print(outcome, out());
      if (objections) {
        out()
            .println(
                "Publishing would be refused, because stored records conflict with the form file:");
        PublishReport.printObjections(outcome.path("objections"), out());
      }
      if (falls) {
        out()
            .println(
                "Publishing needs --force rules, because stored records violate the new"
                    + " rules:");
        PublishReport.printObjections(outcome.path("fallsShort"), out());
      }
    }
    return objections || falls ? Cli.REFUSED : Cli.ACCEPTED;
  }

  private static String words(JsonNode outcome) {
    return switch (outcome.path("change").asString()) {
      case "unchanged" -> "nothing would change";
      case "new" -> "would be new";
      default ->
          outcome.has("revision")
              ? "would become revision " + outcome.path("revision").asString()
              : "would be revised";
    };
  }

  private void errors(FormText file, JsonNode errors) {
    if (printedJson(file.withErrors(errors))) {
      return;
    }
    errors.forEach(error -> file.print(error, commands().getErr()));
  }
}
