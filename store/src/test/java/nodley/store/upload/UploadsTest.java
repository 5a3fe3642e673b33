package nodley.store.upload;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import nodley.core.submission.RecordSink;
import nodley.core.value.FileRef;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.RawQuery;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.care.Backup;
import nodley.store.care.Doctor;
import nodley.store.common.DraftLimits;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;
import nodley.store.common.StoredRecord;
import nodley.store.common.UploadLimits;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Uploads, what becomes of them, and the contents on disk. */
class UploadsTest {

  private static final String LOG =
      "form: log\nfields: { title: { type: text }, papers: { type: file, count: 0..5 } }\n";

  @TempDir private Path folder;

  private Store store;

  @BeforeEach
  void open() {
    store = Store.open(data());
    TestSubmissions.publish(store, LOG, FormPublisher.Manner.CAREFUL);
  }

  @AfterEach
  void close() {
    store.close();
  }

  private Path data() {
    return folder.resolve("data");
  }

  private void reopen(UploadLimits uploads) {
    store.close();
    StoreLimits usual = StoreLimits.DEFAULT;
    store =
        Store.open(
            data(),
            new StoreLimits(
                usual.waiting(),
                usual.turn(),
                usual.holdsPerAddress(),
                usual.logRows(),
                usual.logBytes(),
                usual.logBytesPerForm(),
                usual.freeDisk(),
                uploads,
                DraftLimits.DEFAULT));
  }

  private Upload announce(String name, long size) throws IOException {
    return store
        .uploads()
        .announce(new Upload.Announced("log", "papers", "own:ann", "127.0.0.1", name, size));
  }

  private Upload upload(String name, String content) throws IOException {
    byte[] bytes = content.getBytes(StandardCharsets.UTF_8);
    return store
        .uploads()
        .append(announce(name, bytes.length), 0, new ByteArrayInputStream(bytes), Optional.empty());
  }

  private RecordSink.Outcome<StoredRecord> add(Upload... uploads) {
    List<FileRef> files =
        Arrays.stream(uploads)
            .map(
                it ->
                    new FileRef(
                        FileRef.toUpload(it.id()), it.name(), it.type(), it.size(), it.sha256()))
            .toList();
    PublishedForm form = store.forms().find("log").orElseThrow();
    return TestSubmissions.add(
        store, form, new Values(Map.of("papers", new Value.Files(files, true))));
  }

  private StoredRecord added(Upload... uploads) {
    return ((RecordSink.Kept<StoredRecord>) add(uploads)).record();
  }

  private List<Doctor.Finding> wrong() {
    return Doctor.look(data(), Clock.systemUTC()).stream().filter(it -> !it.isWell()).toList();
  }

  @Test
  void anUploadIsTakenOverOnce() throws Exception {
    Upload upload = upload("a.txt", "one");
    assertThat(add(upload)).isInstanceOf(RecordSink.Kept.class);
    assertThat(add(upload)).isInstanceOf(RecordSink.Clash.class);
    assertThat(RawQuery.lines(data(), "SELECT count(*) FROM log")).containsExactly("1");
    assertThat(store.uploads().find(upload.id())).isEmpty();
  }

  @Test
  void whatNothingTakesOverIsSweptWithItsContent() throws Exception {
    reopen(new UploadLimits(Duration.ofMillis(1), 1 << 20, 10, 1 << 20, 0));
    Upload upload = upload("a.txt", "gone");
    Upload half = announce("half.txt", 100);
    assertThat(store.uploads().contents().of(upload.sha256())).exists();
    while (store.uploads().find(upload.id()).isPresent()
        || store.uploads().find(half.id()).isPresent()) {
      Thread.onSpinWait();
    }
    store.uploads().sweep();
    assertThat(store.uploads().contents().of(upload.sha256())).doesNotExist();
    assertThat(RawQuery.lines(data(), "SELECT count(*) FROM nodley_uploads")).containsExactly("0");
    assertThat(RawQuery.lines(data(), "SELECT count(*) FROM nodley_files")).containsExactly("0");
  }

  @Test
  void aContentStaysAsLongAsARecordOrAnUploadNeedsIt() throws Exception {
    StoredRecord record = added(upload("a.txt", "shared"));
    Upload same = upload("b.txt", "shared");
    PublishedForm form = store.forms().find("log").orElseThrow();
    store.recordWriter().remove(form.form(), record.id(), 1);
    store.uploads().sweep();
    assertThat(store.uploads().contents().of(same.sha256())).exists();
    store.uploads().remove(same);
    assertThat(store.uploads().contents().of(same.sha256())).doesNotExist();
  }

  @Test
  void whatAKilledProcessLeftOnDiskIsSwept() throws Exception {
    Path contents = data().resolve("files");
    Path stray = contents.resolve("ab").resolve("ab" + "0".repeat(62));
    Files.createDirectories(stray.getParent());
    Files.writeString(stray, "nobody's");
    assertThat(wrong()).as("a row may follow at once").isEmpty();
    Files.setLastModifiedTime(
        stray, FileTime.from(Clock.systemUTC().instant().minus(Duration.ofHours(1))));
    Files.writeString(contents.resolve("waiting").resolve("unknown"), "half");
    assertThat(wrong()).singleElement().extracting(Doctor.Finding::what).isEqualTo("files");
    store.uploads().sweepStrays();
    assertThat(stray).doesNotExist();
    assertThat(contents.resolve("waiting").resolve("unknown")).doesNotExist();
    assertThat(wrong()).isEmpty();
  }

  /** All bytes are there, and the process ended before the row said so. */
  @Test
  void anUploadThatIsWholeIsCompletedWhenSomebodyAsks() throws Exception {
    Upload begun = announce("a.txt", 3);
    Files.writeString(data().resolve("files").resolve("waiting").resolve(begun.id()), "abc");
    assertThat(store.uploads().offset(begun)).isEqualTo(3);
    assertThat(store.uploads().completeIfWhole(begun).isComplete()).isTrue();
  }

  @Test
  void bytesThatWereNotComparedWithTheirChecksumDoNotCount() throws Exception {
    Upload begun = announce("a.txt", 10);
    Path waiting = data().resolve("files").resolve("waiting");
    Files.writeString(waiting.resolve(begun.id()), "abcdef");
    Files.writeString(waiting.resolve(begun.id() + ".unchecked"), "2");
    assertThat(store.uploads().offset(begun)).isEqualTo(2);
    InputStream rest = new ByteArrayInputStream("cdefghij".getBytes(StandardCharsets.US_ASCII));
    Upload done = store.uploads().append(begun, 2, rest, Optional.empty());
    assertThat(Files.readString(store.uploads().contents().of(done.sha256())))
        .isEqualTo("abcdefghij");
  }

  @Test
  void whoGoesOnWithAnUploadTakesOverFromWhoseLineIsDead() throws Exception {
    Upload begun = announce("a.txt", 6);
    var first =
        new InputStream() {
          private int next;
          private boolean overtaken;

          @Override
          public int read() throws IOException {
            if (next == 3 && !overtaken) {
              // By now the other has gone on.
              overtaken = true;
              store
                  .uploads()
                  .append(
                      begun,
                      0,
                      new ByteArrayInputStream("ABC".getBytes(StandardCharsets.US_ASCII)),
                      Optional.empty());
            }
            return next < 6 ? "abcdef".charAt(next++) : -1;
          }

          @Override
          public int read(byte[] bytes, int offset, int length) throws IOException {
            int read = read();
            bytes[offset] = (byte) read;
            return read < 0 ? -1 : 1;
          }
        };
    // It has written three bytes when the other begins at 0, which is then no longer the end.
    assertThatThrownBy(() -> store.uploads().append(begun, 0, first, Optional.empty()))
        .isInstanceOf(UploadException.WrongOffset.class);
    assertThat(store.uploads().offset(begun)).isEqualTo(3);
  }

  /** A content would no longer be what it is named by. */
  @Test
  void nobodyWritesWhileTheBytesBecomeAContent() throws Exception {
    WaitingFile file = new WaitingFile(folder.resolve("bytes"));
    var late =
        new InputStream() {
          private int next;

          @Override
          public int read() throws IOException {
            throw new UnsupportedOperationException();
          }

          @Override
          public int read(byte[] bytes, int offset, int length) throws IOException {
            next++;
            if (next == 1) {
              return 3;
            }
            // All three bytes are there, and become a content; only then comes one too many.
            file.sealed(
                () -> {
                  assertThatThrownBy(
                          () -> file.append(3, 3, InputStream.nullInputStream(), Optional.empty()))
                      .isInstanceOf(UploadException.Overtaken.class);
                  return null;
                });
            return next == 2 ? 1 : -1;
          }
        };
    assertThatThrownBy(() -> file.append(0, 3, late, Optional.empty()))
        .isInstanceOf(UploadException.TooMuch.class);
    assertThat(file.length()).as("nothing was taken back").isEqualTo(3);
  }

  @Test
  void aBackupThatTakesLongHoldsUpNoUpload() throws Exception {
    Upload needless = upload("a.txt", "needless");
    store
        .uploads()
        .whileKept(
            () -> {
              Thread other =
                  Thread.ofPlatform()
                      .start(
                          () -> {
                            try {
                              store.uploads().remove(needless);
                              added(upload("b.txt", "meanwhile"));
                            } catch (IOException e) {
                              throw new AssertionError(e);
                            }
                          });
              try {
                assertThat(other.join(Duration.ofSeconds(20))).isTrue();
              } catch (InterruptedException e) {
                throw new AssertionError(e);
              }
              assertThat(store.uploads().contents().of(needless.sha256())).exists();
              return null;
            });
    assertThat(RawQuery.lines(data(), "SELECT count(*) FROM log")).containsExactly("1");
    store.uploads().sweep();
    assertThat(store.uploads().contents().of(needless.sha256())).doesNotExist();
  }

  @Test
  void oneOwnerHasNoMoreThanTheirShare() throws Exception {
    reopen(new UploadLimits(Duration.ofHours(1), 1_000, 2, 10_000, 0));
    announce("a", 600);
    assertThatThrownBy(() -> announce("b", 401)).isInstanceOf(UploadException.TooMany.class);
    announce("c", 400);
    assertThatThrownBy(() -> announce("d", 0))
        .hasMessage("2 files wait to be submitted already; submit some of them, or remove them.");
    reopen(new UploadLimits(Duration.ofHours(1), 1_000, 9, 10_000, Long.MAX_VALUE / 2));
    assertThatThrownBy(() -> announce("e", 1)).isInstanceOf(UploadException.NoRoom.class);
  }

  @Test
  void filesAreForTheirOwnerAlone() throws Exception {
    Upload upload = upload("a.txt", "private");
    Path content = store.uploads().contents().of(upload.sha256());
    for (Path path = content.getParent(); !path.equals(folder); path = path.getParent()) {
      assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(path)))
          .isEqualTo("rwx------");
    }
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(content)))
        .isEqualTo("rw-------");
  }

  @Test
  void aBackupHasTheFilesOfItsMoment() throws Exception {
    Upload one = upload("a.txt", "kept in the backup");
    StoredRecord record = added(one);
    Path archive = folder.resolve("monday.tar");
    try (OutputStream out = Files.newOutputStream(archive)) {
      store.backUp(folder.resolve("copy.db"), out);
    }
    PublishedForm form = store.forms().find("log").orElseThrow();
    store.recordWriter().remove(form.form(), record.id(), 1);
    store.uploads().sweep();
    added(upload("b.txt", "came later"));
    store.close();

    Path fresh = folder.resolve("fresh");
    Backup.restore(archive, fresh, false);
    assertThat(Doctor.look(fresh, Clock.systemUTC())).allMatch(Doctor.Finding::isWell);
    assertThat(Files.readString(new Contents(fresh).of(one.sha256())))
        .isEqualTo("kept in the backup");

    Backup.restore(archive, data(), true);
    assertThat(wrong()).isEmpty();
    assertThat(data().resolve("files.before")).isDirectory();
    open();
    assertThat(store.records().file(form.form(), record.id(), "papers", one.sha256())).isPresent();

    byte[] bytes = Files.readAllBytes(archive);
    int at = new String(bytes, StandardCharsets.ISO_8859_1).indexOf("kept in the backup");
    bytes[at] = 'K';
    Path damaged = Files.write(folder.resolve("damaged.tar"), bytes);
    assertThatThrownBy(() -> Backup.restore(damaged, folder.resolve("none"), false))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("is not what its manifest says");
    assertThat(folder.resolve("none").resolve("nodley.db")).doesNotExist();
  }

  @Test
  void theDoctorFindsWhatIsMissingAndWhatWasChanged() throws Exception {
    Upload one = upload("a.txt", "changed");
    Upload two = upload("b.txt", "missing");
    StoredRecord record = added(one, two);
    Files.writeString(store.uploads().contents().of(one.sha256()), "Changed");
    Files.delete(store.uploads().contents().of(two.sha256()));
    assertThat(wrong())
        .singleElement()
        .extracting(Doctor.Finding::detail)
        .asString()
        .contains(
            one.sha256() + " has another content than it had (a.txt, of log " + record.id() + ")")
        .contains(two.sha256() + " is missing (b.txt, of log " + record.id() + ")");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "%PDF-1.7 …                                                | page.html  | application/pdf",
        "<!DOCTYPE html><html><script>alert(1)</script>            | photo.png  | text/html",
        "<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>   | photo.png  | image/svg+xml",
        "#!/bin/sh                                                 | photo.png  | application/x-sh",
        "name;sign                                                 | boats.csv  | text/csv",
        "name;sign                                                 | boats.pdf  | text/plain",
      })
  void theTypeIsThatOfTheContent(String content, String name, String type) throws IOException {
    assertThat(upload(name, content).type()).isEqualTo(type);
  }

  @Test
  void aDocumentHasWhatItsKindNeeds() throws Exception {
    assertThat(uploadZip("letter.docx", "word/document.xml"))
        .isEqualTo("application/vnd.openxmlformats-officedocument.wordprocessingml.document");
    assertThat(uploadZip("bomb.docx", "zeros")).isEqualTo("application/zip");
    assertThat(uploadZip("app.jar", "word/document.xml")).isEqualTo("application/zip");
  }

  /** An archive of one entry, a megabyte of zeros: nobody unpacks it to look. */
  private String uploadZip(String name, String entry) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
      zip.putNextEntry(new ZipEntry(entry));
      zip.write(new byte[1 << 20]);
      zip.closeEntry();
    }
    return store
        .uploads()
        .append(
            announce(name, bytes.size()),
            0,
            new ByteArrayInputStream(bytes.toByteArray()),
            Optional.empty())
        .type();
  }

  @Test
  void anyBytesAreKeptAsTheyCame() throws Exception {
    byte[] bytes = new byte[300_000];
    new Random(1).nextBytes(bytes);
    Upload upload = announce("x", bytes.length);
    Upload done =
        store.uploads().append(upload, 0, new ByteArrayInputStream(bytes), Optional.empty());
    assertThat(Files.readAllBytes(store.uploads().contents().of(done.sha256()))).isEqualTo(bytes);
  }

  @Test
  void sqlShowsTheFilesOfAFieldAsATable() throws Exception {
    String sha256 = upload("a.txt", "one").sha256();
    StoredRecord record = added(upload("b.txt", "one"), upload("c.txt", "two"));
    assertThat(
            RawQuery.lines(
                data(),
                "SELECT record_id, file_number, name, type, size FROM \"log.papers\" ORDER BY 2"))
        .containsExactly(
            record.id() + "|0|b.txt|text/plain|3", record.id() + "|1|c.txt|text/plain|3");
    assertThat(RawQuery.lines(data(), "SELECT sha256 FROM \"log.papers\" WHERE name = 'b.txt'"))
        .containsExactly(sha256);
    TestSubmissions.publish(
        store,
        LOG.replace("papers:", "letters:").replace("type: file,", "type: file, was: papers,"),
        FormPublisher.Manner.CAREFUL);
    assertThat(RawQuery.lines(data(), "SELECT name FROM \"log.letters\" ORDER BY 1"))
        .containsExactly("b.txt", "c.txt");
    store.publisher().remove("log", true);
    store.uploads().sweep();
    assertThat(RawQuery.lines(data(), "SELECT count(*) FROM nodley_record_files"))
        .containsExactly("0");
  }
}
