package nodley.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Surroundings;
import nodley.core.form.Form;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(
    name = "publish",
    description = "Publishes form files; those that others refer to go first.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley publish vessel.form.yaml", "  nodley publish forms/*.form.yaml"})
final class PublishCommand extends ServiceCommand {

  @Parameters(arity = "1..*", paramLabel = "FILE", description = "Form files, YAML or JSON.")
  private List<Path> files;

  /** A file and the form that it declares. */
  private record Declared(FormText file, Form form) {}

  @Override
  public Integer call() {
    List<Declared> declared = new ArrayList<>();
    boolean fine = true;
    for (Path path : files) {
      FormText file = FormText.read(path, commands());
      try {
        String text = FormFile.decode(file.bytes());
        declared.add(new Declared(file, FormFile.read(text, file.format(), Surroundings.UNKNOWN)));
      } catch (FormFileException e) {
        fine = false;
        print(
            file,
            JsonMapper.shared().valueToTree(e.errors().stream().map(it -> it.toJson()).toList()));
      }
    }
    if (!fine) {
      commands().getErr().println("Nothing was published.");
      return Cli.REFUSED;
    }
    Client client = client();
    for (Declared next : inOrder(declared)) {
      fine &= publish(client, next);
    }
    return fine ? Cli.ACCEPTED : Cli.REFUSED;
  }

  private boolean publish(Client client, Declared declared) {
    try {
      JsonNode reply =
          client.putFile(
              "/forms/" + declared.form().name(),
              declared.file().format().mediaType(),
              declared.file().bytes());
      if (!printedJson(reply)) {
        out()
            .println(
                reply.path("form").asString()
                    + ": revision "
                    + reply.path("revision").asString()
                    + ", "
                    + reply.path("change").asString().toLowerCase(Locale.ROOT));
      }
      return true;
    } catch (Told told) {
      if (json() || !told.problem().has("errors")) {
        told.print(out(), commands().getErr());
      } else {
        print(declared.file(), told.problem().path("errors"));
      }
      return false;
    }
  }

  private void print(FormText file, JsonNode errors) {
    errors.forEach(error -> file.print(error, commands().getErr()));
  }

  /** A form goes after those among the others that it refers to; a circle keeps its order. */
  private static List<Declared> inOrder(List<Declared> declared) {
    List<Declared> waiting = new ArrayList<>(declared);
    List<Declared> ordered = new ArrayList<>();
    while (!waiting.isEmpty()) {
      Declared next =
          waiting.stream()
              .filter(
                  it ->
                      waiting.stream()
                          .noneMatch(other -> it.form().refersTo().contains(other.form().name())))
              .findFirst()
              .orElse(waiting.getFirst());
      ordered.add(next);
      waiting.remove(next);
    }
    return ordered;
  }
}
