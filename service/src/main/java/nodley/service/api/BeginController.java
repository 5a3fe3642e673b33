package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import nodley.begin.BadSource;
import nodley.begin.FromCsv;
import nodley.begin.FromPage;
import nodley.begin.FromSchema;
import nodley.begin.Sketch;
import nodley.begin.SourceFile;
import nodley.core.file.Format;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.Bodies;
import nodley.service.http.Body;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code POST /api/forms/{form}/begin}: a form file begun from data, from a JSON Schema, or from a
 * page with a form in it, as {@code nodley start} begins one. Nothing is published.
 */
@RestController
class BeginController {

  private final Bodies bodies;

  BeginController(Bodies bodies) {
    this.bodies = bodies;
  }

  @Needs(Right.AUTHOR)
  @PostMapping("/api/forms/{form}/begin")
  ResponseEntity<byte[]> begin(@PathVariable String form, HttpServletRequest request)
      throws IOException {
    Query query = Query.of(request, "encoding", "form-number");
    Body body = bodies.source(request);
    try {
      Sketch sketch =
          switch (body.mediaType()) {
            case Bodies.CSV ->
                FromCsv.read(form, new SourceFile("data", body.bytes()), query.get("encoding"));
            case Bodies.HTML ->
                FromPage.read(form, new SourceFile("page", body.bytes()), query.get("form-number"));
            default -> FromSchema.read(form, new SourceFile("schema", body.bytes()));
          };
      return Reply.status(200)
          .contentType(MediaType.parseMediaType(Format.YAML.mediaType()))
          .body(sketch.yaml().getBytes(StandardCharsets.UTF_8));
    } catch (BadSource e) {
      throw Problem.of(422, "no-beginning", "No form file can be begun from it", e.getMessage());
    }
  }
}
