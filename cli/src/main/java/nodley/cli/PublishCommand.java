package nodley.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.Shared;
import nodley.core.file.Surroundings;
import nodley.core.file.TextsFile;
import nodley.core.form.Form;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(
    name = "publish",
    description =
        "Publishes form files, their texts, and the lists and parts they share, in their order.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley publish vessel.form.yaml",
      "  nodley publish lists/*.yaml parts/*.yaml forms/*.form.yaml texts/*.yaml"
    })
final class PublishCommand extends ServiceCommand {

  @Parameters(arity = "1..*", paramLabel = "FILE", description = "Form files, YAML or JSON.")
  private List<Path> files;

  /** A file and the form that it declares. */
  private record Declared(FormText file, Form form) {}

  @Override
  public Integer call() {
    List<Declared> declared = new ArrayList<>();
    List<FormText> shared = new ArrayList<>();
    boolean fine = true;
    for (Path path : files) {
      FormText file = FormText.read(path, commands());
      if (!SharedFiles.kind(path).equals("form")) {
        shared.add(file);
        continue;
      }
      try {
        String text = FormFile.decode(file.bytes());
        // What the form shares is the service's to know; here it is read for what it declares.
        Shared near = SharedFiles.near(files);
        declared.add(
            new Declared(file, FormFile.read(text, file.format(), Surroundings.alone(near))));
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
    // Lists go first, then parts, then the forms that use them, then what these say.
    for (String kind : List.of("list", "part")) {
      for (FormText file : shared) {
        if (SharedFiles.kind(file.path()).equals(kind)) {
          String name = SharedFiles.name(file.path());
          fine &= share(client, kind, file, name, "/" + kind + "s/" + Client.part(name));
        }
      }
    }
    for (Declared next : inOrder(declared)) {
      fine &= publish(client, next);
    }
    for (FormText file : shared) {
      if (SharedFiles.kind(file.path()).equals("texts")) {
        TextsFile.Name name = SharedFiles.texts(file.path()).orElseThrow();
        String language = name.language().toLanguageTag();
        fine &=
            share(
                client,
                "texts of",
                file,
                name.form() + " in " + language,
                "/texts/" + name.form() + "/" + language);
      }
    }
    return fine ? Cli.ACCEPTED : Cli.REFUSED;
  }

  private boolean share(Client client, String kind, FormText file, String name, String path) {
    try {
      JsonNode reply = client.putFile(path, file.format().mediaType(), file.bytes());
      if (!printedJson(reply)) {
        out().println(kind + " " + name + ": " + reply.path("change").asString());
      }
      return true;
    } catch (Told told) {
      if (json() || !told.problem().has("errors")) {
        told.print(out(), commands().getErr());
      } else {
        print(file, told.problem().path("errors"));
      }
      return false;
    }
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
