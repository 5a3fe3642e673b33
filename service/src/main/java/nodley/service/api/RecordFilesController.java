package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.value.FileRef;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.file.SentFile;
import nodley.service.file.SentFiles;
import nodley.service.http.Query;
import nodley.service.problem.Problem;
import nodley.service.submission.Submissions;
import nodley.service.upload.FileLinks;
import nodley.service.upload.Uploading;
import nodley.store.common.StoredRecord;
import nodley.store.upload.Upload;
import org.springframework.core.io.Resource;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * Gives out files: of records, to whoever may see the record and the field; and of uploads, to
 * their owner.
 */
@RestController
class RecordFilesController {

  private final Submissions submissions;
  private final Uploading uploading;
  private final SentFiles files;

  RecordFilesController(Submissions submissions, Uploading uploading, SentFiles files) {
    this.files = files;
    this.uploading = uploading;
    this.submissions = submissions;
  }

  /** A file of a record, or with {@code ?thumbnail} a small picture of it. */
  @Needs(Right.SEE)
  @GetMapping("/api/forms/{form}/records/{id}/files/{place}/{number}")
  ResponseEntity<Resource> ofRecord(
      Form form,
      @PathVariable String id,
      @PathVariable String place,
      @PathVariable String number,
      HttpServletRequest request) {
    Query query = Query.of(request, "thumbnail");
    StoredRecord record = submissions.record(form, id);
    Values seen = Authorization.told(Caller.current(), form.fields(), record.values());
    FileRef file =
        Optional.of(number)
            .filter(it -> it.matches("[0-9]{1,6}"))
            .flatMap(it -> FileLinks.find(form, seen, place, Integer.parseInt(it)))
            .orElseThrow(
                () ->
                    Problem.of(
                        404,
                        "no-such-file",
                        "There is no such file",
                        "The record has no file "
                            + Wellformed.of(number)
                            + " at "
                            + Wellformed.of(place)
                            + "; its values say where its files are."));
    return sent(query, SentFile.of(file));
  }

  /** A file that no record has taken over yet, for its owner, and for all in a joint draft. */
  @Needs(Right.NO_INVALID_TOKEN)
  @GetMapping("/api/uploads/{id}/file")
  ResponseEntity<Resource> ofUpload(@PathVariable String id, HttpServletRequest request) {
    Query query = Query.of(request, "thumbnail");
    Upload upload =
        uploading
            .readable(id, Caller.current())
            .filter(Upload::isComplete)
            .orElseThrow(Uploading::noSuchUpload);
    return sent(query, new SentFile(upload.name(), upload.type(), upload.size(), upload.sha256()));
  }

  private ResponseEntity<Resource> sent(Query query, SentFile file) {
    return query.get("thumbnail").isPresent() ? files.thumbnail(file) : files.whole(file);
  }
}
