package nodley.service.wire;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import nodley.service.problem.Json;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;

/** Replies with JSON, whatever the request would rather accept. */
final class Reply {

  private Reply() {}

  static ResponseEntity.BodyBuilder status(int status) {
    return ResponseEntity.status(status).header(HttpHeaders.CACHE_CONTROL, "no-store");
  }

  static ResponseEntity<byte[]> json(ResponseEntity.BodyBuilder reply, Object tree) {
    return reply.contentType(MediaType.APPLICATION_JSON).body(Json.bytes(tree));
  }

  /**
   * Writes a reply as it is. What a controller returns, Spring answers with 304 where If-None-Match
   * has its tag; but a record looks different though its version, which is its tag, is the same.
   */
  static void write(ResponseEntity<byte[]> reply, HttpServletResponse response) throws IOException {
    response.setStatus(reply.getStatusCode().value());
    reply.getHeaders().forEach((name, values) -> response.setHeader(name, values.getFirst()));
    response.setContentLength(reply.getBody().length);
    response.getOutputStream().write(reply.getBody());
  }

  static ResponseEntity<byte[]> ok(Object tree) {
    return json(status(200), tree);
  }
}
