package nodley.service.upload;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Drafting;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.submission.FileRules;
import nodley.core.submission.Lookups;
import nodley.core.value.ByteSize;
import nodley.core.value.FileRef;
import nodley.core.value.Wellformed;
import nodley.service.caller.Caller;
import nodley.service.limits.Limits;
import nodley.service.limits.Network;
import nodley.service.limits.ScanSettings;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.upload.Checksum;
import nodley.store.upload.FileNames;
import nodley.store.upload.MediaTypes;
import nodley.store.upload.Upload;
import nodley.store.upload.UploadException;
import nodley.store.upload.Uploads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Begins uploads, adds bytes to them and completes them, for whatever way files come; what the
 * field does not take is refused as soon as it can be told. Thread-safe.
 */
@Component
public final class Uploading {

  private static final Logger LOG = LoggerFactory.getLogger(Uploading.class);

  /** What browsers say of a file of which they know nothing. */
  private static final String UNKNOWN = "application/octet-stream";

  /** So many files of a field without a {@code count}, which rows may repeat, count in one body. */
  private static final int MOST_ROWS = 20;

  private final Store store;
  private final Uploads uploads;
  private final UploadPlaces places;
  private final long largest;
  private final long largestInOne;
  private final long bodies;

  Uploading(Store store, UploadPlaces places, Limits limits, ScanSettings scan) {
    this.places = places;
    this.store = store;
    this.uploads = store.uploads();
    uploads.scanBy(ClamdScan.of(scan));
    this.largest = limits.upload().size().toBytes();
    this.largestInOne = limits.upload().waitingSize().toBytes();
    this.bodies = limits.request().body().toBytes();
  }

  /** Returns the bytes that any upload may have. */
  public long largest() {
    return largest;
  }

  /**
   * Returns the field of files that a dotted path leads to.
   *
   * @throws Problem 404 if there is none that the caller may set
   */
  static Field field(Form form, String path) {
    return form.fields()
        .find(List.of(path.split("\\.", -1)))
        .filter(it -> it.type() == Type.FILE && !it.isHidden())
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-field",
                    "There is no such field",
                    "Form "
                        + form.name()
                        + " has no field of files \""
                        + Wellformed.of(path)
                        + "\"."));
  }

  /**
   * What a sender says of a file before it comes.
   *
   * @param field dotted path
   * @param type media type; empty if nothing is said
   * @param size bytes that it will have; empty if nobody knows yet
   */
  public record Announcement(String field, String name, String type, Optional<Long> size) {}

  /**
   * Begins an upload.
   *
   * @param owner whose it is, as {@link Caller#uploader}
   * @throws Problem 413 or 415 if the field does not take it, 429 or 507 if there is no room
   */
  public Upload begin(Form form, Announcement announced, String owner, HttpServletRequest request)
      throws IOException {
    Field field = field(form, announced.field());
    String name = announced.name();
    announced.size().ifPresent(bytes -> checkSize(form, field, name, bytes));
    checkClaim(form, field, announced);
    try {
      return uploads.announce(
          new Upload.Announced(
              form.name(),
              announced.field(),
              owner,
              Network.of(request.getRemoteAddr()),
              name,
              announced.size().orElse(most(field))));
    } catch (UploadException e) {
      throw problem(e);
    }
  }

  /** What even by its name and by what is said of it is of another type need not come at all. */
  private static void checkClaim(Form form, Field field, Announcement announced) {
    String name = announced.name();
    String ending = name.replaceFirst("^.*(?=\\.)", "").toLowerCase(Locale.ROOT);
    boolean said = !announced.type().isBlank() && !announced.type().equals(UNKNOWN);
    FileRef claimed =
        FileRef.stored(name, announced.type(), field.limits().size().min().orElse(0L), "");
    if (said && isFault(field, claimed, Set.of(ending), "file-type")) {
      throw wrongType(form, field, claimed);
    }
  }

  private static boolean isFault(Field field, FileRef file, Set<String> endings, String code) {
    return FileRules.fault(field, file, endings).filter(code::equals).isPresent();
  }

  private long most(Field field) {
    return Math.min(largest, field.limits().size().max().orElse(largest));
  }

  private void checkSize(Form form, Field field, String name, long bytes) {
    FileRef file = FileRef.stored(name, "", bytes, "");
    if (isFault(field, file, Set.of(), "file-too-large")) {
      throw tooLarge(FileRules.sentence(form, field, "file-too-large", file));
    }
    if (bytes > largest) {
      throw tooLarge(
          "%s has %s; the service takes at most %s."
              .formatted(Wellformed.of(name), ByteSize.shown(bytes), ByteSize.shown(largest)));
    }
  }

  private static Problem tooLarge(String detail) {
    return Problem.of(413, "file-too-large", "The file is too large", detail);
  }

  private static Problem wrongType(Form form, Field field, FileRef file) {
    return Problem.of(
        415,
        "file-type",
        "A file of this type is not accepted",
        FileRules.sentence(form, field, "file-type", file));
  }

  /**
   * Adds bytes; the last ones complete the upload.
   *
   * @throws Problem if they do not fit, or the field does not take the file, which is gone then
   */
  public Upload append(
      Form form,
      Upload upload,
      long offset,
      HttpServletRequest request,
      Optional<Checksum> checksum)
      throws IOException {
    InputStream in = request.getInputStream();
    try (UploadPlaces.Place place = places.take(upload.owner(), request.getRemoteAddr())) {
      return judged(form, uploads.append(upload, offset, place.paced(in), checksum));
    } catch (UploadException.Harmful e) {
      throw harmful(form, upload, e);
    } catch (UploadException e) {
      throw problem(e);
    }
  }

  /**
   * Runs what takes the parts of a body in, within the bounds of uploads.
   *
   * @param length bytes that the body has
   * @throws Problem 413, 503 or 507
   */
  public <T> T taking(Form form, long length, HttpServletRequest request, Taking<T> work)
      throws IOException {
    long most = mostInOne(form);
    if (length > most) {
      throw tooLarge(
          "The body has %s; with all its files, form %s takes at most %s."
              .formatted(ByteSize.shown(length), form.name(), ByteSize.shown(most)));
    }
    if (!uploads.hasRoom(length)) {
      throw problem(new UploadException.NoRoom());
    }
    try (UploadPlaces.Place _ = places.take(Caller.current().uploader(), request.getRemoteAddr())) {
      return work.run();
    }
  }

  /** What takes the parts of a body in. */
  public interface Taking<T> {
    T run() throws IOException;
  }

  /** All texts that may be, and as many files as a form has fields and rows for. */
  private long mostInOne(Form form) {
    long files =
        form.everyField().stream()
            .map(Form.Placed::field)
            .filter(field -> field.type() == Type.FILE)
            .mapToLong(field -> most(field) * field.limits().count().max().orElse(MOST_ROWS))
            .sum();
    return 3 * bodies + Math.min(files, largestInOne);
  }

  /**
   * A file that came within a submission.
   *
   * @param reference what stands for it among the values
   * @param identity tells it from others, by its content
   */
  public record Received(String reference, String identity) {}

  /**
   * Takes a whole file that comes within a submission. What the field does not take becomes an
   * error of the field when the submission is judged.
   *
   * @throws Problem 413, 429, 503 or 507 if the service has no room for it
   */
  public Received receive(
      Form form, Announcement announced, InputStream in, String owner, HttpServletRequest request)
      throws IOException {
    Field field = field(form, announced.field());
    FileRef said =
        FileRef.stored(FileNames.safe(announced.name()), "", announced.size().orElseThrow(), "");
    if (isFault(field, said, Set.of(), "file-too-large")) {
      return RefusedFiles.received(said);
    }
    Upload upload = begin(form, announced, owner, request);
    try {
      Upload done = uploads.append(upload, 0, in, Optional.empty());
      FileRef file = FileRef.stored(done.name(), done.type(), done.size(), done.sha256());
      if (FileRules.fault(field, file, MediaTypes.endings(done.type())).isPresent()) {
        uploads.remove(done);
        return RefusedFiles.received(file);
      }
      return new Received(FileRef.toUpload(done.id()), done.name() + " " + done.sha256());
    } catch (UploadException.Harmful e) {
      remove(upload, e);
      return RefusedFiles.harmful(said);
    } catch (UploadException e) {
      throw problem(e);
    }
  }

  /** What a field does not take by its content is gone at once. */
  private Upload judged(Form form, Upload upload) throws IOException {
    if (!upload.isComplete()) {
      return upload;
    }
    Field field = field(form, upload.field());
    FileRef file = FileRef.stored(upload.name(), upload.type(), upload.size(), upload.sha256());
    Optional<String> fault = FileRules.fault(field, file, MediaTypes.endings(upload.type()));
    if (fault.isPresent()) {
      uploads.remove(upload);
      throw fault.get().equals("file-type")
          ? wrongType(form, field, file)
          : Problem.of(
              422,
              "file-too-small",
              "The file is too small",
              FileRules.sentence(form, field, fault.get(), file));
    }
    return upload;
  }

  /** Returns how many bytes of an upload are there; completes it if they all are. */
  public long offset(Form form, Upload upload) throws IOException {
    try {
      return uploads.offset(judged(form, uploads.completeIfWhole(upload)));
    } catch (UploadException.Harmful e) {
      throw harmful(form, upload, e);
    } catch (UploadException e) {
      throw problem(e);
    }
  }

  private void remove(Upload upload, UploadException.Harmful e) throws IOException {
    LOG.warn("{} for {} was refused. {}", upload.name(), upload.form(), e.getMessage());
    uploads.remove(upload);
  }

  private Problem harmful(Form form, Upload upload, UploadException.Harmful e) throws IOException {
    remove(upload, e);
    FileRef file = FileRef.stored(upload.name(), "", upload.size(), "");
    return Problem.of(
        422,
        "file-harmful",
        "The content of the file could do harm",
        FileRules.sentence(form, field(form, upload.field()), "file-harmful", file));
  }

  /** Removes an upload and what has come of it; nothing happens if it is gone already. */
  public void remove(Upload upload) throws IOException {
    uploads.remove(upload);
  }

  /**
   * Returns an upload of the caller's, complete or not; empty if there is none, or it is somebody
   * else's.
   */
  public Optional<Upload> find(String id, Caller caller) {
    return uploads
        .find(id)
        .filter(it -> it.owner().isEmpty() || it.owner().equals(caller.uploader()));
  }

  /** Returns an upload that the caller may look at: their own, or one in a draft for all. */
  public Optional<Upload> readable(String id, Caller caller) {
    return find(id, caller)
        .or(() -> uploads.find(id).filter(it -> isJoint(it.form()) && !it.draft().isEmpty()));
  }

  /** Returns a complete upload for a field, which the caller may submit. */
  public Optional<Upload> usable(String id, String form, String field, Caller caller) {
    return readable(id, caller)
        .filter(it -> it.form().equals(form) && it.field().equals(field) && it.isComplete());
  }

  /** True if whoever works on a draft of a form may use the files that are in it. */
  private boolean isJoint(String form) {
    return store
        .forms()
        .find(form)
        .flatMap(it -> it.form().drafting())
        .filter(Drafting::joint)
        .isPresent();
  }

  /** Returns the file that a submission refers to, if it is there for the caller. */
  public Optional<Lookups.FoundFile> find(FileRef file, String form, String field, Caller caller) {
    return file.upload()
        .flatMap(id -> usable(id, form, field, caller))
        .map(it -> found(it, file.reference()))
        .or(() -> RefusedFiles.find(file.reference()));
  }

  private static Lookups.FoundFile found(Upload upload, String reference) {
    return new Lookups.FoundFile(
        new FileRef(reference, upload.name(), upload.type(), upload.size(), upload.sha256()),
        MediaTypes.endings(upload.type()));
  }

  static Problem problem(UploadException e) {
    return switch (e) {
      case UploadException.WrongOffset _, UploadException.Overtaken _ ->
          Problem.of(409, "upload-offset", "The upload goes on elsewhere", e.getMessage());
      case UploadException.TooMuch _ ->
          Problem.of(413, "file-too-large", "More came than was said", e.getMessage())
              .header("Connection", "close");
      case UploadException.WrongChecksum _ ->
          Problem.of(460, "upload-checksum", "The checksum does not match", e.getMessage());
      case UploadException.TooMany _ ->
          Problem.of(429, "too-many-uploads", "Too many files wait", e.getMessage())
              .header("Retry-After", "60");
      case UploadException.Harmful _ ->
          Problem.of(422, "file-harmful", "The content of the file could do harm", e.getMessage());
      case UploadException.Unscanned _ -> unscanned(e);
      case UploadException.NoRoom _ ->
          Problem.of(507, "no-room", "There is no room for the file", e.getMessage());
      case UploadException.Gone _ -> noSuchUpload();
    };
  }

  private static Problem unscanned(UploadException e) {
    LOG.warn("A file cannot be scanned: {}", e.getMessage());
    return Problem.of(
            503,
            "unscanned",
            "The file waits to be scanned",
            "All bytes are there, and the scanner has not answered. Ask again with HEAD.")
        .header("Retry-After", "10");
  }

  /** 404 for an upload. */
  public static Problem noSuchUpload() {
    return Problem.of(
        404,
        "no-such-upload",
        "There is no such upload",
        "There is no such upload of yours, or it is over: it expired, or a record has it.");
  }
}
