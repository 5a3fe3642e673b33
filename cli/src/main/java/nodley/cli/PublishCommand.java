package nodley.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import nodley.core.file.FormFileException;
import nodley.core.file.TextsFile;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
    name = "publish",
    description =
        "Publishes form files, their texts, and the lists, parts and themes they share, in order.",
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
          "With rules: tighter rules are put in force for what is submitted from now on, although"
              + " kept records fall short of them.")
  private Force force;

  /** What may be forced. */
  private enum Force {
    rules
  }

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
        declared.add(Declared.read(file, files));
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
    Client client = client();
    // Lists go first, then parts and themes, then the forms that use them, then what these say.
    for (String kind : List.of("list", "part", "theme")) {
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
    String query = kind.startsWith("texts") ? "" : query();
    try {
      JsonNode reply = client.putFile(path + query, file.format().mediaType(), file.bytes());
      if (!printedJson(reply)) {
        out().println(kind + " " + name + ": " + reply.path("change").asString());
        print(reply);
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
              "/forms/" + declared.name() + query(),
              declared.file().format().mediaType(),
              declared.file().bytes());
      if (!printedJson(reply)) {
        out().println(Outcomes.revision(reply) + ", " + reply.path("change").asString());
        print(reply);
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

  private String query() {
    return force == null ? "" : "?force=" + force;
  }

  private void print(JsonNode reply) {
    Outcomes.print(reply, out());
    if (!reply.path("fallsShort").isEmpty()) {
      out().println("In force from now on; these kept records fall short, until they are edited:");
      Outcomes.printObjections(reply.path("fallsShort"), out());
    }
  }

  private void print(FormText file, JsonNode errors) {
    if (printedJson(file.withErrors(errors))) {
      return;
    }
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
                  it -> waiting.stream().noneMatch(other -> it.refersTo().contains(other.name())))
              .findFirst()
              .orElse(waiting.getFirst());
      ordered.add(next);
      waiting.remove(next);
    }
    return ordered;
  }
}
