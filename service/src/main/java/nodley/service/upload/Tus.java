package nodley.service.upload;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.SocketTimeoutException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;
import nodley.store.upload.Checksum;
import nodley.store.upload.Upload;
import org.springframework.http.HttpHeaders;

/** Reads and writes the headers of the tus protocol 1.0.0. Stateless. */
public final class Tus {

  public static final String VERSION = "1.0.0";

  public static final String EXTENSIONS =
      "creation,creation-with-upload,expiration,checksum,termination";

  private static final String RESUMABLE = "Tus-Resumable";
  private static final String METADATA = "Upload-Metadata";
  private static final String BYTES = "application/offset+octet-stream";

  private Tus() {}

  /** Says which version a reply is of. */
  public static void version(HttpHeaders headers) {
    headers.set(RESUMABLE, VERSION);
  }

  /**
   * Checks that a request is of the version that is spoken here.
   *
   * @throws Problem 412
   */
  public static void checkVersion(HttpServletRequest request) {
    if (!VERSION.equals(request.getHeader(RESUMABLE))) {
      throw Problem.of(
              412,
              "upload-version",
              "The version of the protocol is not spoken here",
              "Uploads speak the tus protocol "
                  + VERSION
                  + ": send the header Tus-Resumable: 1.0.0.")
          .header("Tus-Version", VERSION);
    }
  }

  /** Returns the form that the metadata of an upload names; empty if they name none. */
  public static Optional<String> form(HttpServletRequest request) {
    return Optional.ofNullable(request.getHeader(METADATA))
        .flatMap(it -> Optional.ofNullable(metadata(it).get("form")));
  }

  /**
   * Reads what is said of a file before it comes.
   *
   * @throws Problem 400 if something is missing, or cannot be read
   */
  public static Uploading.Announcement announcement(HttpServletRequest request) {
    String length = request.getHeader("Upload-Length");
    if (length == null) {
      throw unreadable(
          request.getHeader("Upload-Defer-Length") == null
              ? "Upload-Length is missing: how many bytes the file has."
              : "The length must be known from the beginning: send Upload-Length.");
    }
    Map<String, String> metadata = metadata(request.getHeader(METADATA));
    return new Uploading.Announcement(
        needed(metadata, "field", "the field that it is for, such as photo or crew.passport"),
        metadata.getOrDefault("filename", metadata.getOrDefault("name", "")),
        metadata.getOrDefault("filetype", metadata.getOrDefault("type", "")),
        Optional.of(number("Upload-Length", length)));
  }

  private static String needed(Map<String, String> metadata, String name, String what) {
    return Optional.ofNullable(metadata.get(name))
        .filter(it -> !it.isEmpty())
        .orElseThrow(() -> unreadable("Upload-Metadata has no \"" + name + "\": " + what + "."));
  }

  /** Reads pairs of a name and a value in Base64, with commas between them. */
  private static Map<String, String> metadata(String header) {
    Map<String, String> metadata = new LinkedHashMap<>();
    for (String pair : header == null ? new String[0] : header.split(",")) {
      String[] parts = pair.strip().split(" ", 2);
      if (!parts[0].isEmpty()) {
        metadata.put(parts[0], parts.length == 1 ? "" : text(parts[0], parts[1].strip()));
      }
    }
    return metadata;
  }

  private static String text(String name, String base64) {
    try {
      byte[] bytes = Base64.getDecoder().decode(base64);
      return StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes)).toString();
    } catch (IllegalArgumentException | CharacterCodingException e) {
      throw unreadable(
          "The value of \"" + Wellformed.of(name) + "\" in Upload-Metadata is no UTF-8 in Base64.");
    }
  }

  /** What the metadata of an upload is, as it is told again. */
  public static String metadata(Upload upload) {
    return "form %s,field %s,filename %s"
        .formatted(base64(upload.form()), base64(upload.field()), base64(upload.name()));
  }

  private static String base64(String text) {
    return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
  }

  /**
   * Reads where the bytes of a request begin.
   *
   * @throws Problem 400 if it is not said
   */
  public static long offset(HttpServletRequest request) {
    return Optional.ofNullable(request.getHeader("Upload-Offset"))
        .map(it -> number("Upload-Offset", it))
        .orElseThrow(() -> unreadable("Upload-Offset is missing: where the bytes begin."));
  }

  private static long number(String header, String text) {
    if (!text.matches("[0-9]{1,18}")) {
      throw unreadable(
          header + " is a whole number from 0 up, and not " + Wellformed.of(text) + ".");
    }
    return Long.parseLong(text);
  }

  /**
   * Reads what the bytes of a request must come to.
   *
   * @throws Problem 400 if it cannot be read, or is of another algorithm
   */
  public static Optional<Checksum> checksum(HttpServletRequest request) {
    String header = request.getHeader("Upload-Checksum");
    if (header == null) {
      return Optional.empty();
    }
    return Optional.of(
        Checksum.read(header)
            .orElseThrow(
                () ->
                    unreadable(
                        "Upload-Checksum is one of "
                            + String.join(", ", Checksum.ALGORITHMS)
                            + ", a space, and the digest of the bytes in Base64.")));
  }

  /**
   * Checks that a body has bytes of an upload.
   *
   * @throws Problem 415
   */
  public static void checkMediaType(HttpServletRequest request) {
    if (!hasBytes(request)) {
      throw Problem.mediaType(request.getContentType(), List.of(BYTES));
    }
  }

  /** True if a body has bytes of an upload. */
  public static boolean hasBytes(HttpServletRequest request) {
    String type = request.getContentType();
    return type != null && type.split(";", 2)[0].strip().equalsIgnoreCase(BYTES);
  }

  /** What is told to a sender whose bytes no longer come; most are gone. */
  public static IOException broken(IOException e) {
    if (e instanceof SocketTimeoutException || e.getCause() instanceof SocketTimeoutException) {
      throw Problem.of(
              408,
              "too-slow",
              "The body comes too slowly",
              "No more bytes came. Ask for the offset with HEAD, and go on from there.")
          .header("Connection", "close");
    }
    return e;
  }

  private static Problem unreadable(String detail) {
    return Problem.of(400, "unreadable", "The upload cannot be begun or gone on with", detail);
  }
}
