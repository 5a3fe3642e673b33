package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashSet;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.draft.CallerDrafts;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.people.KnownPeople;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.record.PersonRecords;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/people/{person}/export} and {@code …/forget}: what is kept of a person, handed out or
 * forgotten. People who sign in elsewhere are named by their ids, and so are those who are removed.
 */
@RestController
@RequestMapping("/api/people/{person}")
class PersonDataController {

  /** A source, and what it calls the person. */
  private static final Pattern ID = Pattern.compile("[a-z][a-z0-9-]*:.+");

  private final Store store;
  private final KnownPeople people;
  private final CallerDrafts drafts;

  PersonDataController(Store store, KnownPeople people, CallerDrafts drafts) {
    this.drafts = drafts;
    this.store = store;
    this.people = people;
  }

  @Logged("export-person")
  @Needs(Right.ADMIN)
  @GetMapping("/export")
  void export(@PathVariable String person, HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    Query.of(request);
    Optional<Person> known = known(person);
    LoggedCalls.to(request, "people/" + known.map(Person::name).orElse(person));
    response.setContentType("application/zip");
    response.setHeader("Cache-Control", "no-store");
    response.setHeader("Content-Disposition", "attachment; filename=\"person.zip\"");
    new PersonExport(store, drafts, Caller.current())
        .write(known.map(Person::id).orElse(person), known, response.getOutputStream());
  }

  /** What became of a person's records. */
  record ForgottenReply(String id, @JsonUnwrapped PersonRecords.Forgotten records) {}

  /** Removes the person, and does with their records what their forms say. */
  @Logged("forget-person")
  @Needs(Right.ADMIN)
  @PostMapping("/forget")
  ResponseEntity<byte[]> forget(@PathVariable String person, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Optional<Person> known = known(person);
    // Their name is what is to be forgotten.
    LoggedCalls.to(request, "people/" + known.map(Person::id).orElse(person));
    if (known.isPresent() && store.people().isLastAdmin(known.get())) {
      throw KnownPeople.lastAdmin();
    }
    String id = known.map(Person::id).orElse(person);
    Set<String> names = new LinkedHashSet<>(Set.of(id));
    known.map(Person::name).ifPresent(names::add);
    PersonRecords.Forgotten forgotten = store.records().ofPerson().forget(id, names);
    if (known.isPresent() && store.people().remove(id) instanceof People.Outcome.LastAdmin) {
      throw KnownPeople.lastAdmin();
    }
    store.sessions().endOf(id);
    store.drafts().removeAll(id);
    store.uploads().removeAll(id);
    return Reply.ok(new ForgottenReply(id, forgotten));
  }

  private Optional<Person> known(String person) {
    Optional<Person> known = store.people().named(person);
    if (known.isEmpty() && !ID.matcher(person).matches()) {
      throw people.noSuchPerson(person);
    }
    return known;
  }
}
