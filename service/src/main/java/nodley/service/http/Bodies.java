package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.SocketTimeoutException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import nodley.core.file.Format;
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.value.Wellformed;
import nodley.service.caller.Caller;
import nodley.service.limits.BodyMemory;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import org.apache.coyote.BadRequestException;
import org.springframework.stereotype.Component;

/**
 * Reads the bodies of requests by their media type: within limits of size, of time, and of what all
 * bodies together may take. Safe for many threads.
 */
@Component
public final class Bodies {

  /** What is over is read and thrown away up to here, so that the client gets to its reply. */
  private static final int MAX_DRAINED = 32 << 20;

  private static final int CHUNK = 8_192;

  /** The attribute of a request that has its body, once it was begun to be read. */
  private static final String READ = Bodies.class.getName() + ".read";

  /** RFC 4180. */
  public static final String CSV = "text/csv";

  public static final String HTML = "text/html";
  private static final String SCHEMA = "application/schema+json";
  private static final String JSON = "application/json";
  private static final String MERGE_PATCH = "application/merge-patch+json";
  private static final String MULTIPART = "multipart/form-data";
  private static final String FORM = "application/x-www-form-urlencoded";

  private final Limits.Requests limits;
  private final int largestFile;
  private final BodyMemory memory;

  Bodies(Limits limits, BodyMemory memory) {
    this.limits = limits.request();
    this.largestFile = (int) limits.form().file().toBytes();
    this.memory = memory;
  }

  /**
   * Reads a submission.
   *
   * @throws Problem 415, 413, 408 or 400
   */
  public Input submission(HttpServletRequest request) throws IOException {
    return submission(read(request));
  }

  /** The body of a submission, not parsed yet. */
  public Body read(HttpServletRequest request) throws IOException {
    return read(request, List.of(JSON, FORM));
  }

  /** The same for a submission that may have files: {@code multipart/form-data} is refused here. */
  public Body readWithoutFiles(HttpServletRequest request) throws IOException {
    try {
      return read(request);
    } catch (Problem problem) {
      throw problem.headers().containsKey("Accept-Post")
          ? Problem.mediaType(request.getContentType(), List.of(JSON, FORM, MULTIPART))
              .header("Accept-Post", String.join(", ", JSON, FORM, MULTIPART))
          : problem;
    }
  }

  /** Notes the body of a page that was read elsewhere, for {@link #readOnce}. */
  public Body read(HttpServletRequest request, byte[] pairs, byte[] identity) {
    Body body = new Body(FORM, pairs, identity);
    request.setAttribute(READ, Optional.of(body));
    return body;
  }

  /**
   * The body of a submission from a page, whether it was read before or not.
   *
   * @return empty if it could not be read when it was tried
   * @throws Problem 415, 413, 408 or 400
   */
  public Optional<Body> readOnce(HttpServletRequest request) throws IOException {
    return request.getAttribute(READ) instanceof Optional<?> read
        ? read.map(Body.class::cast)
        : Optional.of(read(request, List.of(FORM)));
  }

  /** Parses a submission. */
  public Input submission(Body body) {
    try {
      return body.mediaType().equals(FORM)
          ? FormInput.read(body.bytes(), limits.input())
          : JsonInput.read(body.bytes(), limits.input());
    } catch (Unreadable e) {
      throw problem(e);
    }
  }

  /** The body of a JSON Merge Patch (RFC 7396), not parsed yet. */
  public Body readPatch(HttpServletRequest request) throws IOException {
    return read(request, List.of(MERGE_PATCH, JSON));
  }

  /** The text members of a body, for the few requests that are no submissions. */
  public Map<String, String> texts(HttpServletRequest request) throws IOException {
    Map<String, String> texts = new LinkedHashMap<>();
    submission(request).members().forEach((name, raw) -> texts.put(name, raw.shown()));
    return texts;
  }

  /** Reads a file of forms or of what they share: a list of options may be long. */
  public Body file(HttpServletRequest request) throws IOException {
    return read(request, List.of(Format.YAML.mediaType(), Format.JSON.mediaType()), largestFile);
  }

  /** Reads what a form file is begun from: data, a page, or a JSON Schema. */
  public Body source(HttpServletRequest request) throws IOException {
    return read(request, List.of(CSV, HTML, SCHEMA, JSON), largestFile);
  }

  /** Reads several such files, as JSON that has their texts. */
  public byte[] files(HttpServletRequest request) throws IOException {
    return read(request, List.of(JSON), largestFile).bytes();
  }

  private Body read(HttpServletRequest request, List<String> wanted) throws IOException {
    return read(request, wanted, (int) limits.body().toBytes());
  }

  /** Reads a body of one of these media types, in UTF-8. */
  private Body read(HttpServletRequest request, List<String> wanted, int most) throws IOException {
    String given = request.getContentType();
    String type = given == null ? "" : given.split(";", 2)[0].strip().toLowerCase(Locale.ROOT);
    if (!wanted.contains(type) || !isUtf8(given)) {
      // RFC 9110, section 12.5.1, and RFC 5789, section 3.1: what would be right.
      String accept = request.getMethod().equals("PATCH") ? "Accept-Patch" : "Accept-Post";
      throw Problem.mediaType(given, wanted).header(accept, String.join(", ", wanted));
    }
    String encoding = request.getHeader("Content-Encoding");
    if (encoding != null && !encoding.isBlank() && !encoding.strip().equalsIgnoreCase("identity")) {
      throw Problem.contentEncoding(Wellformed.of(encoding));
    }
    if (!type.equals(FORM)) {
      return new Body(type, bytes(request, most));
    }
    request.setAttribute(READ, Optional.empty());
    Body body = new Body(type, bytes(request, most));
    request.setAttribute(READ, Optional.of(body));
    return body;
  }

  private static boolean isUtf8(String contentType) {
    for (String parameter : contentType.toLowerCase(Locale.ROOT).split(";")) {
      String[] pair = parameter.split("=", 2);
      if (pair.length == 2 && pair[0].strip().equals("charset")) {
        String charset = pair[1].strip();
        return charset.equals("utf-8") || charset.equals("\"utf-8\"");
      }
    }
    return true;
  }

  private byte[] bytes(HttpServletRequest request, int most) throws IOException {
    long begun = System.nanoTime();
    boolean known = Caller.current().isKnown();
    InputStream in = request.getInputStream();
    // What says how long it is, and is short, gets a buffer of that size.
    long said = request.getContentLengthLong();
    var bytes = new ByteArrayOutputStream(said >= 0 && said <= CHUNK ? (int) said : CHUNK);
    byte[] chunk = new byte[said >= 0 && said < CHUNK ? Math.max(1, (int) said) : CHUNK];
    long length = 0;
    try {
      for (int n = in.read(chunk); n >= 0; n = in.read(chunk)) {
        length += n;
        if (length <= most) {
          bytes.write(chunk, 0, n);
          memory.take(request, length, known);
        } else if (length > MAX_DRAINED) {
          break;
        }
        if (length == said) {
          break;
        }
        checkTime(begun, length);
      }
    } catch (BadRequestException e) {
      // A chunk that is none (RFC 9112, section 7.1); nobody knows where the next request begins.
      throw Problem.of(
              400, "unreadable", "The body cannot be read", "It does not come as HTTP has it.")
          .header("Connection", "close");
    } catch (IOException e) {
      if (e instanceof SocketTimeoutException || e.getCause() instanceof SocketTimeoutException) {
        throw tooSlow();
      }
      throw e;
    }
    if (length > most) {
      throw tooLarge("The body is larger than " + size(most) + ".");
    }
    memory.awaitTurn(request);
    return bytes.toByteArray();
  }

  /** A body has a time to come in, and more the more has come. */
  private void checkTime(long begun, long length) {
    long given = limits.time().toNanos() + 1_000_000_000L * (length / limits.speed().toBytes());
    if (System.nanoTime() - begun > given) {
      throw tooSlow();
    }
  }

  private static String size(int bytes) {
    return bytes % (1 << 20) == 0 ? (bytes >> 20) + " MiB" : (bytes >> 10) + " KiB";
  }

  private Problem tooSlow() {
    return Problem.of(
            408,
            "too-slow",
            "The body comes too slowly",
            "It has %d seconds, and a second more for each %d bytes."
                .formatted(limits.time().toSeconds(), limits.speed().toBytes()))
        .header("Connection", "close");
  }

  private static Problem problem(Unreadable e) {
    return e.isTooLarge()
        ? tooLarge(e.getMessage())
        : Problem.of(400, "unreadable", "The body cannot be read", e.getMessage());
  }

  private static Problem tooLarge(String detail) {
    return Problem.of(413, "too-large", "The body is too large", detail);
  }
}
