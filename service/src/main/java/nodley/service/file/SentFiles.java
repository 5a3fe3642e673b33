package nodley.service.file;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import nodley.service.problem.Problem;
import nodley.service.submission.CostlyReads;
import nodley.store.Store;
import nodley.store.upload.Contents;
import org.springframework.core.io.ByteArrayResource;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Component;

/**
 * Gives out files so that nothing in them runs in a page of this service: images and PDF may be
 * shown, all else is saved; every reply is in a sandbox, and browsers do not guess types. Spring
 * answers {@code Range} and {@code If-None-Match}. Thread-safe.
 */
@Component
public final class SentFiles {

  /** What a browser shows and does not run. SVG is not among them: it has scripts. */
  private static final Set<String> SHOWN =
      Set.of(
          "image/jpeg",
          "image/png",
          "image/gif",
          "image/webp",
          "image/avif",
          "image/bmp",
          "application/pdf");

  private static final String SANDBOX =
      "sandbox; default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'";

  /** It may be kept for as long as its address means the same content, which its tag tells. */
  private static final String CACHE = "private, no-cache";

  private final Contents contents;
  private final CostlyReads costlyReads;

  SentFiles(Store store, CostlyReads costlyReads) {
    this.contents = store.uploads().contents();
    this.costlyReads = costlyReads;
  }

  /**
   * Returns a file.
   *
   * @throws Problem 404 if its content is not on the disk
   */
  public ResponseEntity<Resource> whole(SentFile file) {
    boolean shown = SHOWN.contains(file.type());
    return ResponseEntity.ok()
        .headers(headers -> write(headers, file, shown, file.sha256()))
        .contentType(shown ? MediaType.parseMediaType(file.type()) : saved(file.type()))
        .body(new FileSystemResource(path(file)));
  }

  /**
   * Returns a small picture of an image, without what else the file says: place, camera, date.
   *
   * @throws Problem 404 if there is none of such a file
   */
  public ResponseEntity<Resource> thumbnail(SentFile file) {
    Path path = path(file);
    byte[] small =
        costlyReads
            .run(() -> Thumbnails.of(path, file.type()))
            .orElseThrow(
                () ->
                    Problem.of(
                        404,
                        "no-thumbnail",
                        "There is no small picture of it",
                        "Small pictures are made of JPEG, PNG, GIF and WebP images that can be"
                            + " read."));
    return ResponseEntity.ok()
        .headers(headers -> write(headers, file, true, file.sha256() + "-small"))
        .contentType(MediaType.IMAGE_PNG)
        .body(new ByteArrayResource(small));
  }

  private static void write(HttpHeaders headers, SentFile file, boolean shown, String tag) {
    headers.setETag("\"" + tag + "\"");
    headers.set(HttpHeaders.CACHE_CONTROL, CACHE);
    headers.set("Content-Security-Policy", SANDBOX);
    headers.set("Cross-Origin-Resource-Policy", "same-origin");
    // RFC 6266: a plain name for old clients, and the name itself.
    headers.setContentDisposition(
        (shown ? ContentDisposition.inline() : ContentDisposition.attachment())
            .filename(file.name(), StandardCharsets.UTF_8)
            .build());
  }

  /** What is saved need not tell more than it must: no type that some browser would run. */
  private static MediaType saved(String type) {
    boolean runs =
        type.contains("html")
            || type.contains("xml")
            || type.contains("script")
            || !type.contains("/");
    return runs ? MediaType.APPLICATION_OCTET_STREAM : MediaType.parseMediaType(type);
  }

  private Path path(SentFile file) {
    Path path = contents.of(file.sha256());
    if (!Files.isRegularFile(path)) {
      throw Problem.of(
          404,
          "no-such-file",
          "The file is missing",
          "The content of the file is not in the data folder; `nodley doctor` says what is"
              + " missing.");
    }
    return path;
  }
}
