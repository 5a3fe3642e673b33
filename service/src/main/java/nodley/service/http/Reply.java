package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import nodley.service.problem.Json;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.util.DigestUtils;

/**
 * Builds JSON replies. There is no other representation, so {@code Accept} is ignored (RFC 9110,
 * section 12.5.1 allows it). Unless said otherwise nobody may store them. Stateless.
 */
public final class Reply {

  private Reply() {}

  /** Begins a reply that nothing may keep ({@code Cache-Control: no-store}). */
  public static ResponseEntity.BodyBuilder status(int status) {
    return ResponseEntity.status(status).header(HttpHeaders.CACHE_CONTROL, "no-store");
  }

  /** Returns a reply with a record, or a tree of maps and lists, as its JSON body. */
  public static ResponseEntity<byte[]> json(ResponseEntity.BodyBuilder reply, Object body) {
    return reply.contentType(MediaType.APPLICATION_JSON).body(Json.bytes(body));
  }

  /** Returns the tag of a body, in quotes. */
  public static String tag(byte[] body) {
    return "\"" + DigestUtils.md5DigestAsHex(body) + "\"";
  }

  /**
   * A reply under a tag of its body, so that who has it already is told so: Spring answers 304
   * where If-None-Match has the tag, and here it does where that is {@code *} (RFC 9110, section
   * 13.1.2). The tag is a weak one: compressed, the body is other bytes that say the same.
   */
  public static ResponseEntity<byte[]> tagged(
      ResponseEntity.BodyBuilder reply, byte[] body, HttpServletRequest request) {
    ResponseEntity<byte[]> whole = reply.eTag("W/" + tag(body)).body(body);
    return "*".equals(request.getHeader(HttpHeaders.IF_NONE_MATCH))
        ? ResponseEntity.status(304).headers(whole.getHeaders()).build()
        : whole;
  }

  /**
   * Writes a reply as it is. What a controller returns, Spring answers with 304 where If-None-Match
   * has its tag; but a record looks different though its version, which is its tag, is the same.
   */
  public static void write(ResponseEntity<byte[]> reply, HttpServletResponse response)
      throws IOException {
    response.setStatus(reply.getStatusCode().value());
    reply.getHeaders().forEach((name, values) -> response.setHeader(name, values.getFirst()));
    response.setContentLength(reply.getBody().length);
    response.getOutputStream().write(reply.getBody());
  }

  /** Returns 200 with a record, or a tree, as its JSON body. */
  public static ResponseEntity<byte[]> ok(Object body) {
    return json(status(200), body);
  }
}
