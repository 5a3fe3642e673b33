package nodley.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import nodley.begin.BadSource;
import nodley.begin.FromCsv;
import nodley.begin.FromPage;
import nodley.begin.FromSchema;
import nodley.begin.FromTable;
import nodley.begin.Sketch;
import nodley.begin.SourceFile;
import picocli.CommandLine;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code nodley start}: begins a form file from a table, a schema, data or a page. */
@Command(
    name = "start",
    header = "Begins a form file from a table, a schema, data or a page.",
    description =
        "The file is printed. It has no errors; what is guessed is said in comments. Needs no"
            + " service but for a table of a database that the service looks things up in.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley start vessel --from-table app.db:vessels > vessel.form.yaml",
      "  nodley start customer --from-source shop.customers > customer.form.yaml",
      "  nodley start berth --from-csv berths.csv > berth.form.yaml"
    })
final class StartCommand extends ServiceCommand {

  @Parameters(paramLabel = "NAME", description = "The name of the new form.")
  private String name;

  @ArgGroup(multiplicity = "1")
  private Source source;

  /** Where it is begun from: one of these. */
  static final class Source {
    @Option(
        names = "--from-table",
        paramLabel = "FILE:TABLE",
        description = "A table of an SQLite database.")
    private String table;

    @Option(
        names = "--from-source",
        paramLabel = "SOURCE.TABLE",
        description = "A table of a database that the settings of the service name.")
    private String service;

    @Option(names = "--from-schema", paramLabel = "FILE", description = "A JSON Schema.")
    private Path schema;

    @Option(
        names = "--from-csv",
        paramLabel = "FILE",
        description = "Data with a line of names above it.")
    private Path csv;

    @Option(names = "--from-html", paramLabel = "FILE", description = "A page with a form in it.")
    private Path html;
  }

  @Option(
      names = "--encoding",
      paramLabel = "NAME",
      description =
          "The encoding of data, such as ISO-8859-1. Default: UTF-8 or UTF-16; else it is guessed,"
              + " and said.")
  private String encoding;

  @Option(
      names = {"--form-number", "--form-id"},
      paramLabel = "FORM",
      description =
          "Which form of a page: its number from 1 up, or its id. Default: the one with the most"
              + " controls.")
  private String which;

  @Override
  public Integer call() {
    if (!name.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new CommandLine.ParameterException(
          commands(),
          "A form's name is a small letter, then up to 39 small letters, digits or hyphens.");
    }
    try {
      out().print(source.service == null ? sketch().yaml() : fromService());
      out().flush();
      return Cli.ACCEPTED;
    } catch (BadSource e) {
      commands().getErr().println(e.getMessage());
      return Cli.REFUSED;
    }
  }

  private String fromService() {
    String[] parts = source.service.split("\\.", 2);
    if (parts.length < 2 || parts[0].isEmpty() || parts[1].isEmpty()) {
      throw new CommandLine.ParameterException(
          commands(), "--from-source is a database and a table: shop.customers.");
    }
    return client()
        .postForText(
            "/forms/"
                + name
                + "/begin"
                + Client.query(Map.of("source", parts[0], "table", parts[1])));
  }

  private Sketch sketch() throws BadSource {
    if (source.schema != null) {
      return FromSchema.read(name, SourceFile.of(source.schema));
    }
    if (source.csv != null) {
      return FromCsv.read(name, SourceFile.of(source.csv), Optional.ofNullable(encoding));
    }
    if (source.html != null) {
      return FromPage.read(name, SourceFile.of(source.html), Optional.ofNullable(which));
    }
    int colon = colon(source.table);
    if (colon <= 0 || colon == source.table.length() - 1) {
      throw new CommandLine.ParameterException(
          commands(), "--from-table is a file and a table: app.db:vessels.");
    }
    return FromTable.read(
        name, Path.of(source.table.substring(0, colon)), source.table.substring(colon + 1));
  }

  /** The colon between a file that is there and a table: both may have colons of their own. */
  private static int colon(String source) {
    for (int at = source.indexOf(':'); at >= 0; at = source.indexOf(':', at + 1)) {
      if (at > 0 && Files.isRegularFile(Path.of(source.substring(0, at)))) {
        return at;
      }
    }
    return source.lastIndexOf(':');
  }
}
