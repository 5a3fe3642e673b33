package nodley.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.Map;
import javax.xml.parsers.DocumentBuilderFactory;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;

class VersionTest {

  @Test
  void theVersionIsThatOfTheBuild() throws Exception {
    String revision =
        DocumentBuilderFactory.newInstance()
            .newDocumentBuilder()
            .parse(Path.of(System.getProperty("basedir"), "../pom.xml").toFile())
            .getElementsByTagName("revision")
            .item(0)
            .getTextContent();
    StringWriter out = new StringWriter();
    CommandLine commands = Cli.commandLine(Map.of());
    commands.setOut(new PrintWriter(out, true));
    assertThat(commands.execute("--version")).isZero();
    assertThat(out.toString()).isEqualTo("nodley " + revision + System.lineSeparator());
  }
}
