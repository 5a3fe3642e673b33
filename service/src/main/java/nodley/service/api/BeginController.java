package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.begin.BadSource;
import nodley.begin.FromCsv;
import nodley.begin.FromPage;
import nodley.begin.FromSchema;
import nodley.begin.FromTable;
import nodley.begin.Sketch;
import nodley.begin.SourceFile;
import nodley.core.file.Format;
import nodley.core.name.Near;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.service.source.SourceDatabases;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code POST /api/forms/{form}/begin}: a form file begun from data, from a JSON Schema, from a
 * page with a form in it, or from a table of a database that the settings name, as {@code nodley
 * start} begins one. Nothing is published. {@code GET /api/sources/tables} tells which tables there
 * are.
 */
@RestController
class BeginController {

  /** So many tables of a database are told. */
  private static final int MOST_TABLES = 2_000;

  private final Bodies bodies;
  private final SourceDatabases sources;

  BeginController(Bodies bodies, SourceDatabases sources) {
    this.bodies = bodies;
    this.sources = sources;
  }

  /**
   * A table or view.
   *
   * @param table its name; with that of its schema before it, and a dot, where that is not the
   *     usual
   */
  record SourceTable(String source, String table) {}

  /**
   * The tables of all databases.
   *
   * @param away the databases that do not answer
   */
  record SourceTables(List<SourceTable> tables, List<String> away) {}

  @Needs(Right.AUTHOR)
  @GetMapping("/api/sources/tables")
  ResponseEntity<byte[]> tables(HttpServletRequest request) {
    Query.of(request);
    List<SourceTable> tables = new ArrayList<>();
    List<String> away = new ArrayList<>();
    for (String source : sources.names()) {
      try {
        sources.read(source, FromTable::names).stream()
            .limit(MOST_TABLES)
            .map(name -> new SourceTable(source, String.join(".", name)))
            .forEach(tables::add);
      } catch (Problem e) {
        away.add(source);
      }
    }
    return Reply.ok(new SourceTables(tables, away));
  }

  @Needs(Right.AUTHOR)
  @PostMapping("/api/forms/{form}/begin")
  ResponseEntity<byte[]> begin(@PathVariable String form, HttpServletRequest request)
      throws IOException {
    Query query = Query.of(request, "encoding", "form-number", "source", "table");
    try {
      Optional<String> source = query.get("source");
      Sketch sketch =
          source.isPresent()
              ? fromTable(form, source.get(), query.get("table").orElse(""))
              : fromBody(form, bodies.source(request), query);
      return Reply.status(200)
          .contentType(MediaType.parseMediaType(Format.YAML.mediaType()))
          .body(sketch.yaml().getBytes(StandardCharsets.UTF_8));
    } catch (BadSource e) {
      throw noBeginning(e.getMessage());
    }
  }

  private static Problem noBeginning(String detail) {
    return Problem.of(422, "no-beginning", "No form file can be begun from it", detail);
  }

  private static Sketch fromBody(String form, Body body, Query query) throws BadSource {
    return switch (body.mediaType()) {
      case Bodies.CSV ->
          FromCsv.read(form, new SourceFile("data", body.bytes()), query.get("encoding"));
      case Bodies.HTML ->
          FromPage.read(form, new SourceFile("page", body.bytes()), query.get("form-number"));
      default -> FromSchema.read(form, new SourceFile("schema", body.bytes()));
    };
  }

  private Sketch fromTable(String form, String source, String table) throws BadSource {
    Set<String> names = sources.names();
    if (!names.contains(source)) {
      throw noBeginning(
          "There is no database "
              + source
              + " in the settings"
              + Near.to(source, names)
                  .map(near -> "; did you mean " + near + "?")
                  .orElse(
                      names.isEmpty()
                          ? ", nor any other."
                          : "; they have " + String.join(", ", names) + "."));
    }
    return sources.read(source, connection -> FromTable.read(form, connection, source, table));
  }
}
