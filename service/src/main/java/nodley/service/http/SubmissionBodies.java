package nodley.service.http;

import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.Part;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.SocketTimeoutException;
import java.net.URLEncoder;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.service.caller.Caller;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import nodley.service.upload.Uploading;
import org.apache.tomcat.util.http.fileupload.FileUploadException;
import org.apache.tomcat.util.http.fileupload.impl.IOFileUploadException;
import org.springframework.stereotype.Component;

/**
 * Reads the bodies of submissions, with their files (RFC 7578, {@code multipart/form-data}): each
 * file becomes an upload, and in its place stands the upload's name, so that what follows is the
 * same as if it had been uploaded before. Thread-safe.
 */
@Component
public final class SubmissionBodies {

  private static final String MULTIPART = "multipart/form-data";

  private final Bodies bodies;
  private final Uploading uploading;
  private final int most;

  SubmissionBodies(Bodies bodies, Uploading uploading, Limits limits) {
    this.bodies = bodies;
    this.uploading = uploading;
    this.most = (int) limits.request().body().toBytes();
  }

  /**
   * Reads the body of a submission to a form.
   *
   * @throws Problem 415, 413, 408, 400; for files also 429, 503 or 507
   */
  public Body read(HttpServletRequest request, Form form) throws IOException {
    return read(request, form, () -> Caller.current().uploader());
  }

  /**
   * The same.
   *
   * @param uploader whose the files are, as {@link Caller#uploader}; asked once there is one
   */
  public Body read(HttpServletRequest request, Form form, Supplier<String> uploader)
      throws IOException {
    String type = Optional.ofNullable(request.getContentType()).orElse("");
    return type.split(";", 2)[0].strip().toLowerCase(Locale.ROOT).equals(MULTIPART)
        ? parts(request, form, uploader)
        : bodies.readWithoutFiles(request);
  }

  /** Reads the body, and parses it. */
  public Input submission(HttpServletRequest request, Form form) throws IOException {
    return bodies.submission(read(request, form));
  }

  /** Parses a body that was read. */
  public Input submission(Body body) {
    return bodies.submission(body);
  }

  private Body parts(HttpServletRequest request, Form form, Supplier<String> uploader)
      throws IOException {
    ByteArrayOutputStream pairs = new ByteArrayOutputStream();
    ByteArrayOutputStream identity = new ByteArrayOutputStream();
    long length = request.getContentLengthLong();
    if (length < 0) {
      throw Problem.of(
          411,
          "length-needed",
          "The length of the body is missing",
          "A body of multipart/form-data says with Content-Length how many bytes it has.");
    }
    String owner = null;
    for (Part part : uploading.taking(form, length, request, () -> parts(request))) {
      String name = part.getName();
      String file = part.getSubmittedFileName();
      String value;
      String means;
      if (file == null) {
        value = text(part);
        means = value;
      } else if (file.isEmpty() && part.getSize() == 0) {
        // Nothing was chosen.
        continue;
      } else if (isOfFiles(form, name)) {
        owner = owner == null ? uploader.get() : owner;
        Uploading.Received received = received(form, name, part, file, owner, request);
        value = received.reference();
        means = received.identity();
      } else {
        value = file;
        means = file;
      }
      add(pairs, name, value);
      add(identity, name, means);
    }
    return bodies.read(request, pairs.toByteArray(), identity.toByteArray());
  }

  private static Iterable<Part> parts(HttpServletRequest request) throws IOException {
    try {
      request.setCharacterEncoding(StandardCharsets.UTF_8);
      return request.getParts();
    } catch (IllegalStateException e) {
      // What Tomcat throws for too many bytes, and for too many parts.
      throw Problem.of(
          413,
          "too-large",
          "The body is too large",
          "It has more bytes, or more parts, than the service takes.");
    } catch (IOFileUploadException e) {
      throw e.getCause() instanceof SocketTimeoutException
          ? Problem.of(
                  408, "too-slow", "The body comes too slowly", "No more bytes came for too long.")
              .header("Connection", "close")
          : unreadable();
    } catch (FileUploadException | ServletException e) {
      throw unreadable();
    }
  }

  private static Problem unreadable() {
    return Problem.of(
        400,
        "unreadable",
        "The body cannot be read",
        "It is not what RFC 7578 (multipart/form-data) describes, or it breaks off.");
  }

  private String text(Part part) throws IOException {
    if (part.getSize() > most) {
      throw Problem.of(
          413, "too-large", "The body is too large", "A text in it has more bytes than may be.");
    }
    try (InputStream in = part.getInputStream()) {
      return StandardCharsets.UTF_8
          .newDecoder()
          .decode(ByteBuffer.wrap(in.readAllBytes()))
          .toString();
    } catch (CharacterCodingException e) {
      throw Problem.of(400, "unreadable", "The body cannot be read", "A text in it is not UTF-8.");
    }
  }

  private Uploading.Received received(
      Form form, String name, Part part, String file, String owner, HttpServletRequest request)
      throws IOException {
    Uploading.Announcement announced =
        new Uploading.Announcement(path(name), file, "", Optional.of(part.getSize()));
    try (InputStream in = part.getInputStream()) {
      return uploading.receive(form, announced, in, owner, request);
    }
  }

  /** True if the name of a part is that of a field of files: {@code crew[0].passport}. */
  private static boolean isOfFiles(Form form, String name) {
    return form.fields()
        .find(List.of(path(name).split("\\.", -1)))
        .filter(it -> it.type() == Type.FILE && !it.isHidden())
        .map(Field::isOnPages)
        .orElse(false);
  }

  private static String path(String name) {
    return name.replaceAll("\\[[0-9]*]", "");
  }

  private void add(ByteArrayOutputStream pairs, String name, String value) {
    if (pairs.size() > 0) {
      pairs.write('&');
    }
    pairs.writeBytes(
        (URLEncoder.encode(name, StandardCharsets.UTF_8)
                + "="
                + URLEncoder.encode(value, StandardCharsets.UTF_8))
            .getBytes(StandardCharsets.US_ASCII));
    if (pairs.size() > 3L * most) {
      throw Problem.of(
          413, "too-large", "The body is too large", "Its texts have more bytes than may be.");
    }
  }
}
