package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.http.Bodies;
import nodley.service.http.MemberReader;
import nodley.service.http.Query;
import nodley.service.http.RecordReply;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.submission.Displays;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.common.StoredRecord;
import nodley.store.record.Owners;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code PUT /api/forms/{form}/records/{id}/owner}: hands a record over to another person. Needs
 * the role admin. The record's version stays, since none of its values changes.
 */
@RestController
class OwnersController {

  private final Owners owners;
  private final People people;
  private final Submissions submissions;
  private final Displays displays;
  private final Bodies bodies;

  OwnersController(Store store, Submissions submissions, Displays displays, Bodies bodies) {
    this.owners = store.owners();
    this.people = store.people();
    this.submissions = submissions;
    this.displays = displays;
    this.bodies = bodies;
  }

  /** Hands a record over: to a person, by id or name; or to nobody. Its version stays. */
  @Logged("hand-over")
  @Needs(Right.ADMIN)
  @PutMapping("/api/forms/{form}/records/{id}/owner")
  ResponseEntity<byte[]> handOver(
      @PathVariable("form") String name, @PathVariable String id, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Caller caller = Caller.current();
    Form form = submissions.form(name, caller).form();
    StoredRecord before = submissions.record(form, id);
    MemberReader members =
        new MemberReader(
            bodies.submission(request), "An owner", "Nothing was changed.", List.of("owner"));
    String wanted = members.text("owner");
    Optional<Person> owner = people.named(wanted);
    if (!members.has("owner")) {
      members.error("owner", "value-missing", "Owner is required: a person, or null for nobody.");
    } else if (!wanted.isEmpty() && owner.isEmpty()) {
      members.error(
          "owner",
          "not-an-option",
          "There is no person \""
              + Wellformed.of(wanted)
              + "\"."
              + MemberReader.near(wanted, people.names()));
    }
    members.check();
    if (!owners.handOver(form, before.id(), owner.map(Person::id).orElse(""))) {
      members.error(
          "owner",
          "taken",
          wanted + " has a record of " + form.name() + " already, as each person may.");
      throw members.refused();
    }
    StoredRecord after = submissions.record(form, id);
    return Reply.json(
        Reply.status(200).header("ETag", RecordReply.tag(after)),
        RecordReply.of(form, after, caller, displays.of(caller)));
  }
}
