package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.value.FileRef;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Browsers;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.service.upload.Tus;
import nodley.service.upload.Uploading;
import nodley.store.upload.Checksum;
import nodley.store.upload.Upload;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/uploads}: files go up by the tus protocol 1.0.0, with creation, creation-with-upload,
 * expiration, checksum and termination. What is complete stands as a field's value: {@code
 * upload:ID}.
 */
@RestController
@RequestMapping("/api/uploads")
class UploadsController {

  private final Uploading uploading;
  private final Submissions submissions;
  private final Browsers browsers;

  UploadsController(Uploading uploading, Submissions submissions, Browsers browsers) {
    this.browsers = browsers;
    this.submissions = submissions;
    this.uploading = uploading;
  }

  /**
   * An upload as its owner may see it.
   *
   * @param value what stands as the field's value
   * @param type media type, found from the content; left out until the upload is complete
   * @param offset bytes that are there
   * @param expiresAt RFC 3339, UTC
   */
  record UploadReply(
      String id,
      String value,
      String form,
      String field,
      String name,
      Optional<String> type,
      long size,
      long offset,
      String expiresAt) {

    static UploadReply of(Upload upload, long offset) {
      return new UploadReply(
          upload.id(),
          FileRef.toUpload(upload.id()),
          upload.form(),
          upload.field(),
          upload.name(),
          upload.isComplete() ? Optional.of(upload.type()) : Optional.empty(),
          upload.size(),
          offset,
          upload.endsAt().toString());
    }
  }

  /** What the service can do (tus 1.0.0, OPTIONS). */
  @Needs(Right.NOTHING)
  @RequestMapping(
      path = {"", "/{id}"},
      method = RequestMethod.OPTIONS)
  ResponseEntity<byte[]> options() {
    return Reply.status(204)
        .headers(Tus::version)
        .header("Allow", "OPTIONS, POST, GET, HEAD, PATCH, DELETE")
        .header("Tus-Version", Tus.VERSION)
        .header("Tus-Extension", Tus.EXTENSIONS)
        .header("Tus-Checksum-Algorithm", String.join(",", Checksum.ALGORITHMS))
        .header("Tus-Max-Size", Long.toString(uploading.largest()))
        .build();
  }

  /** Begins an upload; the body, if there is one, has its first bytes. */
  @Needs(Right.UPLOAD)
  @PostMapping
  ResponseEntity<byte[]> begin(Form form, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Query.of(request, "form");
    Tus.checkVersion(request);
    Uploading.Announcement file = Tus.announcement(request);
    Optional<Checksum> checksum = Tus.checksum(request);
    boolean bytes = Tus.hasBytes(request);
    Upload upload = uploading.begin(form, file, browsers.uploader(request, response), request);
    if (bytes || upload.size() == 0) {
      try {
        upload = uploading.append(form, upload, 0, request, checksum);
      } catch (Problem problem) {
        uploading.remove(upload);
        throw problem;
      } catch (IOException e) {
        // The line broke: what came can be gone on with, if the answer got there.
        throw Tus.broken(e);
      }
    }
    return Reply.status(201)
        .headers(Tus::version)
        .header("Location", "/api/uploads/" + upload.id())
        .header("Upload-Offset", Long.toString(uploading.offset(form, upload)))
        .header("Upload-Expires", expires(upload))
        .build();
  }

  /** Where an upload goes on. */
  @Needs(Right.NO_INVALID_TOKEN)
  @RequestMapping(path = "/{id}", method = RequestMethod.HEAD)
  ResponseEntity<byte[]> offset(@PathVariable String id, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Tus.checkVersion(request);
    Upload upload = find(id);
    return Reply.status(200)
        .headers(Tus::version)
        .header("Upload-Offset", Long.toString(uploading.offset(form(upload), upload)))
        .header("Upload-Length", Long.toString(upload.size()))
        .header("Upload-Metadata", Tus.metadata(upload))
        .header("Upload-Expires", expires(upload))
        .build();
  }

  /** What is known of an upload, for its owner. */
  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping("/{id}")
  ResponseEntity<byte[]> get(@PathVariable String id, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Upload upload = find(id);
    long offset = uploading.offset(form(upload), upload);
    return Reply.ok(UploadReply.of(find(id), offset));
  }

  /** Adds bytes. */
  @Needs(Right.NO_INVALID_TOKEN)
  @PatchMapping("/{id}")
  ResponseEntity<byte[]> append(@PathVariable String id, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Tus.checkVersion(request);
    Tus.checkMediaType(request);
    long offset = Tus.offset(request);
    Optional<Checksum> checksum = Tus.checksum(request);
    Upload upload = find(id);
    Form form = form(upload);
    Upload now;
    try {
      now = uploading.append(form, upload, offset, request, checksum);
    } catch (IOException e) {
      throw Tus.broken(e);
    }
    return Reply.status(204)
        .headers(Tus::version)
        .header("Upload-Offset", Long.toString(uploading.offset(form, now)))
        .header("Upload-Expires", expires(now))
        .build();
  }

  /** Ends an upload. */
  @Needs(Right.NO_INVALID_TOKEN)
  @DeleteMapping("/{id}")
  ResponseEntity<byte[]> remove(@PathVariable String id, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Tus.checkVersion(request);
    uploading.remove(find(id));
    return Reply.status(204).headers(Tus::version).build();
  }

  /** For clients that cannot send PATCH or DELETE (tus 1.0.0, X-HTTP-Method-Override). */
  @Needs(Right.NO_INVALID_TOKEN)
  @PostMapping("/{id}")
  ResponseEntity<byte[]> overridden(@PathVariable String id, HttpServletRequest request)
      throws IOException {
    return switch (Optional.ofNullable(request.getHeader("X-HTTP-Method-Override")).orElse("")) {
      case "PATCH" -> append(id, request);
      case "DELETE" -> remove(id, request);
      case "HEAD" -> offset(id, request);
      default -> throw Problem.notAllowedMethod("POST", List.of("HEAD", "PATCH", "DELETE"));
    };
  }

  private Upload find(String id) {
    return uploading.find(id, Caller.current()).orElseThrow(Uploading::noSuchUpload);
  }

  private Form form(Upload upload) {
    return submissions.form(upload.form(), Caller.current()).form();
  }

  /** RFC 9110, section 5.6.7. */
  private static String expires(Upload upload) {
    return DateTimeFormatter.RFC_1123_DATE_TIME.format(upload.endsAt().atOffset(ZoneOffset.UTC));
  }
}
