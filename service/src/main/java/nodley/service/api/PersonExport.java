package nodley.service.api;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import nodley.core.value.FileRef;
import nodley.core.value.Raw;
import nodley.service.caller.Caller;
import nodley.service.draft.CallerDrafts;
import nodley.service.problem.Json;
import nodley.store.Store;
import nodley.store.access.Person;
import nodley.store.access.Sessions;
import nodley.store.draft.Draft;
import nodley.store.form.PublishedForm;
import nodley.store.record.PersonRecords;
import nodley.store.record.RemovedRecords;
import nodley.store.record.Version;
import nodley.store.upload.Upload;

/**
 * All that is kept of a person, as a zip of JSON files: the person, their sessions, their records
 * with all versions, their drafts and uploads, what they sent; and the files of these. Without
 * secrets and passwords, which nobody can read.
 */
final class PersonExport {

  private final Store store;
  private final CallerDrafts drafts;
  private final AttemptView attempts;

  /** The names of files, by the digests of their contents. */
  private final Map<String, String> files = new LinkedHashMap<>();

  /** Begins for an admin, who may read all of it. */
  PersonExport(Store store, CallerDrafts drafts, Caller admin) {
    this.store = store;
    this.drafts = drafts;
    this.attempts = new AttemptView(store.forms(), admin);
  }

  /**
   * Writes the zip.
   *
   * @param id of the person
   * @param person empty for somebody who signs in elsewhere, or is removed
   */
  void write(String id, Optional<Person> person, OutputStream out) throws IOException {
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      put(zip, "person.json", person.<Object>map(PersonReply::of).orElse(new Elsewhere(id)));
      put(zip, "sessions.json", sessions(id));
      for (Map.Entry<PublishedForm, List<PersonRecords.Owned>> of :
          store.records().ofPerson().owned(id).entrySet()) {
        put(
            zip,
            "records/" + of.getKey().name() + ".json",
            of.getValue().stream().map(OwnedRecord::of).toList());
        of.getValue().forEach(this::noteFiles);
      }
      putRemoved(zip, id);
      put(zip, "drafts.json", drafts.of(id).stream().map(OwnDraft::of).toList());
      List<Upload> uploads = store.uploads().of(id).stream().filter(Upload::isComplete).toList();
      put(zip, "uploads.json", uploads.stream().map(OwnUpload::of).toList());
      uploads.forEach(it -> files.put(it.sha256(), it.name()));
      String name = person.map(Person::name).orElse(id);
      put(
          zip,
          "attempts.json",
          store.attempts().by(name).stream().map(it -> attempts.full(it, List.of())).toList());
      store.uploads().whileKept(() -> putFiles(zip));
    }
  }

  private void putRemoved(ZipOutputStream zip, String id) throws IOException {
    for (Map.Entry<String, List<RemovedRecords.WithVersions>> of :
        store.records().removed().ofPerson(id).entrySet()) {
      put(
          zip,
          "removed/" + of.getKey() + ".json",
          of.getValue().stream().map(RemovedRecord::of).toList());
      of.getValue().forEach(it -> it.versions().forEach(version -> noteFiles(version.values())));
    }
  }

  private void noteFiles(PersonRecords.Owned owned) {
    noteFiles(Raw.of(owned.record().values()));
    owned.versions().forEach(it -> noteFiles(it.values()));
  }

  private void noteFiles(Raw raw) {
    switch (raw) {
      case Raw.Many(List<Raw> items) -> items.forEach(this::noteFiles);
      case Raw.Members members -> {
        FileRef.of(members)
            .ifPresent(it -> files.putIfAbsent(it.digest().orElseThrow(), it.name()));
        members.members().values().forEach(this::noteFiles);
      }
      default -> {
        // It has no files.
      }
    }
  }

  /** Each content once, under its digest, by which the values name it. */
  private Void putFiles(ZipOutputStream zip) throws IOException {
    for (Map.Entry<String, String> file : files.entrySet()) {
      Path content = store.uploads().contents().of(file.getKey());
      if (Files.isRegularFile(content)) {
        zip.putNextEntry(new ZipEntry("files/" + file.getKey() + "/" + file.getValue()));
        Files.copy(content, zip);
        zip.closeEntry();
      }
    }
    return null;
  }

  private static void put(ZipOutputStream zip, String name, Object tree) throws IOException {
    zip.putNextEntry(new ZipEntry(name));
    zip.write(Json.bytes(tree));
    zip.closeEntry();
  }

  private List<OwnSession> sessions(String id) {
    return store.sessions().ofPerson(id).stream().map(OwnSession::of).toList();
  }

  /** Somebody of whom nothing but the id is kept here. */
  record Elsewhere(String id) {}

  record OwnSession(String begunAt, String usedAt, String address) {

    static OwnSession of(Sessions.Session session) {
      return new OwnSession(
          Instant.ofEpochMilli(session.begunAt()).toString(),
          Instant.ofEpochMilli(session.usedAt()).toString(),
          session.address());
    }
  }

  record OwnDraft(String form, String record, String updatedAt, Object values) {

    static OwnDraft of(Draft draft) {
      return new OwnDraft(
          draft.form(), draft.record(), draft.updatedAt().toString(), draft.values().toJson());
    }
  }

  record OwnUpload(String form, String field, String name, String type, long size, String sha256) {

    static OwnUpload of(Upload upload) {
      return new OwnUpload(
          upload.form(),
          upload.field(),
          upload.name(),
          upload.type(),
          upload.size(),
          upload.sha256());
    }
  }

  record OwnedRecord(
      String id, String createdAt, String updatedAt, Object values, List<OwnedVersion> versions) {

    static OwnedRecord of(PersonRecords.Owned owned) {
      return new OwnedRecord(
          owned.record().id(),
          owned.record().createdAt(),
          owned.record().updatedAt(),
          Raw.of(owned.record().values()).toJson(),
          owned.versions().stream().map(OwnedVersion::of).toList());
    }
  }

  record RemovedRecord(String id, String removedAt, List<OwnedVersion> versions) {

    static RemovedRecord of(RemovedRecords.WithVersions removed) {
      return new RemovedRecord(
          removed.id(),
          removed.at().toString(),
          removed.versions().stream().map(OwnedVersion::of).toList());
    }
  }

  record OwnedVersion(long version, String at, String by, Object values) {

    static OwnedVersion of(Version version) {
      return new OwnedVersion(
          version.number(), version.at(), version.by(), version.values().toJson());
    }
  }
}
