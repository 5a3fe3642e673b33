package nodley.service.wire;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.InputStream;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import nodley.core.file.FormFile;
import nodley.core.file.Format;
import nodley.core.input.FormInput;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;

/** Reads the bodies of requests, within limits, by their media type. */
public final class Body {

  /** The body of a submission may have this many bytes. */
  public static final int MAX_BYTES = 1 << 20;

  /** What is over is read and thrown away up to here, so that the client gets to its reply. */
  private static final int MAX_DRAINED = 32 << 20;

  private static final String JSON = "application/json";
  private static final String MERGE_PATCH = "application/merge-patch+json";
  private static final String FORM = "application/x-www-form-urlencoded";

  private Body() {}

  /** A body's bytes and its media type, without parameters. */
  public record Typed(String mediaType, byte[] bytes) {}

  /**
   * Reads a submission.
   *
   * @throws Problem 415, 413 or 400
   */
  public static Input submission(HttpServletRequest request) throws IOException {
    return submission(typed(request));
  }

  /** The body of a submission, not read yet. */
  public static Typed typed(HttpServletRequest request) throws IOException {
    return read(request, List.of(JSON, FORM));
  }

  /** Reads a submission from its bytes. */
  public static Input submission(Typed body) {
    try {
      return body.mediaType().equals(JSON)
          ? JsonInput.read(body.bytes(), InputLimits.DEFAULT)
          : FormInput.read(body.bytes(), InputLimits.DEFAULT);
    } catch (Unreadable e) {
      throw problem(e);
    }
  }

  static Typed typedPatch(HttpServletRequest request) throws IOException {
    return read(request, List.of(MERGE_PATCH, JSON));
  }

  /**
   * Reads a JSON Merge Patch (RFC 7396) from its bytes.
   *
   * @throws Problem 413 or 400
   */
  static Input patch(Typed body) {
    try {
      return JsonInput.read(body.bytes(), InputLimits.DEFAULT);
    } catch (Unreadable e) {
      throw problem(e);
    }
  }

  /** The text members of a body, for the few requests that are no submissions. */
  public static Map<String, String> texts(HttpServletRequest request) throws IOException {
    Map<String, String> texts = new LinkedHashMap<>();
    submission(request).members().forEach((name, raw) -> texts.put(name, raw.shown()));
    return texts;
  }

  /** Reads a file of forms or of what they share: a list of options may be long. */
  static Typed file(HttpServletRequest request) throws IOException {
    return read(
        request, List.of(Format.YAML.mediaType(), Format.JSON.mediaType()), FormFile.MAX_BYTES);
  }

  /** Reads several such files, as JSON that has their texts. */
  static byte[] files(HttpServletRequest request) throws IOException {
    return read(request, List.of(JSON), FormFile.MAX_BYTES).bytes();
  }

  /** Reads a body of one of these media types, in UTF-8. */
  public static Typed read(HttpServletRequest request, List<String> wanted) throws IOException {
    return read(request, wanted, MAX_BYTES);
  }

  private static Typed read(HttpServletRequest request, List<String> wanted, int most)
      throws IOException {
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
    return new Typed(type, bytes(request, most));
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

  private static byte[] bytes(HttpServletRequest request, int most) throws IOException {
    InputStream in = request.getInputStream();
    // What says how long it is gets a buffer of that size, not one for the longest that may come.
    long said = request.getContentLengthLong();
    boolean fits = said >= 0 && said <= most;
    byte[] bytes = in.readNBytes(fits ? (int) said : most + 1);
    if (bytes.length <= most) {
      return bytes;
    }
    byte[] waste = new byte[8_192];
    int drained = bytes.length;
    for (int n = in.read(waste); n >= 0 && drained < MAX_DRAINED; n = in.read(waste)) {
      drained += n;
    }
    throw tooLarge("The body is larger than " + (most >> 20) + " MiB.");
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
