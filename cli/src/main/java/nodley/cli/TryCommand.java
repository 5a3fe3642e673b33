package nodley.cli;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import nodley.core.cases.CaseRunner;
import nodley.core.file.CaseFile;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Shared;
import nodley.core.form.Form;
import nodley.core.value.Raw;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code nodley try}: runs case files against form files, without a service unless one is asked
 * for.
 */
@Command(
    name = "try",
    description = "Runs case files: here, or with --at against a service.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley try forms/visit.cases.yaml",
      "  nodley try forms/*.cases.yaml --report cases.xml",
      "  nodley try forms/visit.cases.yaml --at http://127.0.0.1:8420",
      "",
      "visit.cases.yaml speaks of the form visit, and of visit.form.yaml beside it or in forms."
    })
final class TryCommand extends ServiceCommand {

  @Parameters(arity = "1..*", paramLabel = "FILE", description = "Case files, YAML or JSON.")
  private List<Path> files;

  @Option(
      names = "--report",
      paramLabel = "FILE",
      description = "Write a report for a build server, as JUnit XML.")
  private Path report;

  /** Cases that only make sense here, with the record that they edit made up. */
  private final List<String> leftOut = new ArrayList<>();

  private final List<String> unreadable = new ArrayList<>();

  /** One case that was run, and what was not as expected. */
  private record Tried(String form, String name, int line, List<String> differences) {}

  @Override
  public Integer call() {
    List<Tried> tried = new ArrayList<>();
    for (Path path : files) {
      FormText text = FormText.read(path, commands());
      try {
        CaseFile cases = CaseFile.read(FormFile.decode(text.bytes()), text.format());
        tried.addAll(isRemote() ? there(path, cases) : here(path, cases));
      } catch (FormFileException e) {
        unreadable.add(path + ": " + e.errors().getFirst().detail());
        Json.tree(e.errors()).forEach(error -> text.print(error, commands().getErr()));
      }
    }
    long failed = tried.stream().filter(it -> !it.differences().isEmpty()).count();
    print(tried, failed);
    if (report != null) {
      write(tried, failed);
    }
    return unreadable.isEmpty() && failed == 0 ? Cli.ACCEPTED : Cli.REFUSED;
  }

  private static String formOf(Path cases) {
    return cases.getFileName().toString().replaceFirst("\\.cases\\.(ya?ml|json)$", "");
  }

  private List<Tried> here(Path path, CaseFile cases) throws FormFileException {
    Path file =
        formFile(path)
            .orElseThrow(
                () ->
                    new CommandLine.ParameterException(
                        commands(),
                        "There is no "
                            + formOf(path)
                            + ".form.yaml beside "
                            + path
                            + ", nor in a folder forms near it."));
    Shared shared = SharedFiles.near(List.of(file));
    FormText text = FormText.read(file, commands());
    Form form =
        FormFile.read(FormFile.decode(text.bytes()), text.format(), FormRegistry.alone(shared));
    List<Tried> tried = new ArrayList<>();
    for (CaseFile.Case one : cases.cases()) {
      Map<String, Object> verdict =
          CaseRunner.judge(form, cases, one, Clock.system(ZoneId.systemDefault()));
      tried.add(
          new Tried(form.name(), one.name(), one.line(), CaseRunner.differences(one, verdict)));
    }
    return tried;
  }

  private static Optional<Path> formFile(Path cases) {
    Path folder = cases.toAbsolutePath().normalize().getParent();
    return Stream.of(folder, folder.resolve("forms"), folder.resolveSibling("forms"))
        .flatMap(
            place ->
                Stream.of("yaml", "yml", "json")
                    .map(ending -> place.resolve(formOf(cases) + ".form." + ending)))
        .filter(Files::exists)
        .findFirst();
  }

  private List<Tried> there(Path path, CaseFile cases) {
    Client client = client();
    String form = formOf(path);
    List<Tried> tried = new ArrayList<>();
    for (CaseFile.Case one : cases.cases()) {
      if (one.before().isPresent()) {
        // A check as an edit needs a record; making one would leave something behind.
        leftOut.add(form + ": " + one.name());
        continue;
      }
      byte[] body = JsonMapper.shared().writeValueAsBytes(new Raw.Members(one.in()).toJson());
      JsonNode reply = client.postJson("/forms/" + Client.part(form) + "/checks", body);
      Map<String, Object> verdict = new LinkedHashMap<>();
      reply
          .propertyStream()
          .forEach(
              it ->
                  verdict.put(
                      it.getKey(), JsonMapper.shared().treeToValue(it.getValue(), Object.class)));
      tried.add(new Tried(form, one.name(), one.line(), CaseRunner.differences(one, verdict)));
    }
    return tried;
  }

  private void print(List<Tried> tried, long failed) {
    if (json()) {
      List<Object> all = new ArrayList<>();
      for (Tried one : tried) {
        all.add(Map.of("form", one.form(), "case", one.name(), "differences", one.differences()));
      }
      out().println(JsonMapper.shared().writeValueAsString(all));
      return;
    }
    for (Tried one : tried) {
      boolean well = one.differences().isEmpty();
      out().println((well ? "  ok    " : "  NOT   ") + one.form() + ": " + one.name());
      one.differences().forEach(line -> out().println("          " + line));
    }
    leftOut.forEach(name -> out().println("  here  " + name + " (an edit: left out with --at)"));
    out()
        .println(
            tried.size()
                + (tried.size() == 1 ? " case, " : " cases, ")
                + (failed == 0 ? "all as expected" : failed + " not as expected")
                + (unreadable.isEmpty() ? "" : "; " + unread()));
  }

  private String unread() {
    int files = unreadable.size();
    return files + (files == 1 ? " file" : " files") + " could not be read";
  }

  /** XML 1.0 (section 2.2) has no place for most control characters; a box stands for each. */
  private static String inXml(String text) {
    return text.replaceAll(
        "[^\\t\\n\\r\\x{20}-\\x{D7FF}\\x{E000}-\\x{FFFD}\\x{10000}-\\x{10FFFF}]", "\u25A1");
  }

  private void write(List<Tried> tried, long failed) {
    try (OutputStream out = Files.newOutputStream(report)) {
      XMLStreamWriter xml =
          XMLOutputFactory.newDefaultFactory().createXMLStreamWriter(out, "UTF-8");
      xml.writeStartDocument("UTF-8", "1.0");
      xml.writeStartElement("testsuite");
      xml.writeAttribute("name", "nodley try");
      xml.writeAttribute("tests", Integer.toString(tried.size() + unreadable.size()));
      xml.writeAttribute("failures", Long.toString(failed));
      xml.writeAttribute("errors", Integer.toString(unreadable.size()));
      for (String file : unreadable) {
        xml.writeStartElement("testcase");
        xml.writeAttribute("classname", "files");
        xml.writeAttribute("name", inXml(file));
        xml.writeStartElement("error");
        xml.writeAttribute("message", inXml(file));
        xml.writeEndElement();
        xml.writeEndElement();
      }
      for (Tried one : tried) {
        xml.writeStartElement("testcase");
        xml.writeAttribute("classname", one.form());
        xml.writeAttribute("name", inXml(one.name()));
        if (!one.differences().isEmpty()) {
          xml.writeStartElement("failure");
          xml.writeAttribute("message", inXml(one.differences().getFirst()));
          xml.writeCharacters(inXml(String.join("\n", one.differences())));
          xml.writeEndElement();
        }
        xml.writeEndElement();
      }
      xml.writeEndElement();
      xml.writeEndDocument();
      xml.flush();
    } catch (IOException | XMLStreamException e) {
      throw new CommandLine.ParameterException(
          commands(), "The report " + report + " cannot be written.");
    }
  }
}
