package nodley.service.api;

import java.io.IOException;
import java.io.OutputStream;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import nodley.core.value.Raw;
import nodley.service.caller.Caller;
import nodley.service.problem.Json;
import nodley.store.Store;
import nodley.store.access.Person;
import nodley.store.access.Sessions;
import nodley.store.form.PublishedForm;
import nodley.store.record.PersonRecords;
import nodley.store.record.Version;

/**
 * All that is kept of a person, as a zip of JSON files: the person, their sessions, their records
 * with all versions, and what they sent. Without secrets and passwords, which nobody can read.
 */
final class PersonExport {

  private final Store store;
  private final AttemptView attempts;

  /** Begins for an admin, who may read all of it. */
  PersonExport(Store store, Caller admin) {
    this.store = store;
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
      }
      String name = person.map(Person::name).orElse(id);
      put(zip, "attempts.json", store.attempts().by(name).stream().map(attempts::full).toList());
    }
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

  record OwnedVersion(long version, String at, String by, Object values) {

    static OwnedVersion of(Version version) {
      return new OwnedVersion(
          version.number(), version.at(), version.by(), version.values().toJson());
    }
  }
}
