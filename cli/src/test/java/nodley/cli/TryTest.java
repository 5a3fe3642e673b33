package nodley.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import picocli.CommandLine;

/** What {@code nodley try} says of files that it cannot read, and of names that XML cannot hold. */
class TryTest {

  @TempDir private Path folder;

  @Test
  void aFileThatCannotBeReadIsNoSuccess() throws Exception {
    Files.writeString(
        folder.resolve("boat.form.yaml"), "form: boat\nfields: { a: { type: text } }\n");
    Path right =
        Files.writeString(
            folder.resolve("boat.cases.yaml"),
            "cases:\n  - { name: \"rings \\a\", in: { a: x }, verdict: accepted }\n");
    Path wrong = Files.writeString(folder.resolve("ship.cases.yaml"), "cases:\n  - { nmae: x }\n");
    Path report = folder.resolve("report.xml");
    StringWriter out = new StringWriter();
    CommandLine commands = Cli.commandLine(Map.of());
    commands.setOut(new PrintWriter(out, true)).setErr(new PrintWriter(out, true));
    assertThat(
            commands.execute(
                "try", right.toString(), wrong.toString(), "--report", report.toString()))
        .isEqualTo(1);
    assertThat(out.toString()).contains("1 case, all as expected; 1 file could not be read");
    Document xml = DocumentBuilderFactory.newInstance().newDocumentBuilder().parse(report.toFile());
    Element suite = xml.getDocumentElement();
    assertThat(suite.getAttribute("errors")).isEqualTo("1");
    assertThat(suite.getAttribute("tests")).isEqualTo("2");
    assertThat(xml.getElementsByTagName("error").getLength()).isEqualTo(1);
    assertThat(((Element) xml.getElementsByTagName("testcase").item(1)).getAttribute("name"))
        .isEqualTo("rings \u25A1");
  }
}
