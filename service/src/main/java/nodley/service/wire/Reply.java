package nodley.service.wire;

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

  static ResponseEntity<byte[]> ok(Object tree) {
    return json(status(200), tree);
  }
}
