package nodley.service.api;

import java.io.IOException;
import java.io.OutputStream;
import java.time.Instant;
import java.util.LinkedHashMap;
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
      put(zip, "person.json", person.map(PeopleController::json).orElse(Map.of("id", id)));
      put(zip, "sessions.json", sessions(id));
      for (Map.Entry<PublishedForm, List<PersonRecords.Owned>> of :
          store.records().ofPerson().owned(id).entrySet()) {
        put(
            zip,
            "records/" + of.getKey().name() + ".json",
            of.getValue().stream().map(PersonExport::json).toList());
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

  private List<Map<String, Object>> sessions(String id) {
    return store.sessions().ofPerson(id).stream().map(PersonExport::json).toList();
  }

  private static Map<String, Object> json(Sessions.Session session) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("begunAt", Instant.ofEpochMilli(session.begunAt()).toString());
    json.put("usedAt", Instant.ofEpochMilli(session.usedAt()).toString());
    json.put("address", session.address());
    return json;
  }

  private static Map<String, Object> json(PersonRecords.Owned owned) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("id", owned.record().id());
    json.put("createdAt", owned.record().createdAt());
    json.put("updatedAt", owned.record().updatedAt());
    json.put("values", Raw.of(owned.record().values()).toJson());
    json.put("versions", owned.versions().stream().map(PersonExport::json).toList());
    return json;
  }

  private static Map<String, Object> json(Version version) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("version", version.number());
    json.put("at", version.at());
    json.put("by", version.by());
    json.put("values", version.values().toJson());
    return json;
  }
}
