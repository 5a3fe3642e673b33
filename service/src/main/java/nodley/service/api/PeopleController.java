package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Optional;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.delivery.PasswordMails;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.people.KnownPeople;
import nodley.service.people.PersonInput;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.form.Forms;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/people}: lists, adds, changes and removes the people who sign in here, and makes
 * links by which they set a password. A path names a person by id or by name.
 */
@RestController
@RequestMapping("/api/people")
class PeopleController {

  private final People people;
  private final KnownPeople known;
  private final RoleWarnings roles;
  private final Bodies bodies;
  private final Forms forms;
  private final PasswordMails mails;
  private final Clock clock;

  PeopleController(
      Store store,
      KnownPeople known,
      RoleWarnings roles,
      Bodies bodies,
      PasswordMails mails,
      Clock clock) {
    this.people = store.people();
    this.forms = store.forms();
    this.mails = mails;
    this.known = known;
    this.roles = roles;
    this.bodies = bodies;
    this.clock = clock;
  }

  record AllPeople(List<PersonReply> people) {}

  /**
   * A link by which somebody sets a password.
   *
   * @param link its whole address
   * @param until when it ends: RFC 3339, UTC
   * @param mailedTo the address that it was mailed to; left out if it was not
   * @param notMailed why it could not be mailed; left out if it was, or was not to be
   */
  record Link(String link, String until, Optional<String> mailedTo, Optional<String> notMailed) {}

  record Added(
      @JsonUnwrapped PersonReply person, @JsonUnwrapped Link link, List<String> warnings) {}

  record Changed(@JsonUnwrapped PersonReply person, List<String> warnings) {}

  record NewLink(String name, @JsonUnwrapped Link link) {}

  /** Answers 200 with all people, without anything secret. */
  @Needs(Right.ADMIN)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(new AllPeople(people.all().stream().map(PersonReply::of).toList()));
  }

  /**
   * Answers 200 with one of them.
   *
   * @throws Problem 404 if there is nobody of this name
   */
  @Needs(Right.ADMIN)
  @GetMapping("/{person}")
  ResponseEntity<byte[]> one(@PathVariable String person, HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(PersonReply.of(known.find(person)));
  }

  /** Adds somebody. The reply alone has the link by which they set a password. */
  @Logged("add-person")
  @Needs(Right.ADMIN)
  @PostMapping
  ResponseEntity<byte[]> add(HttpServletRequest request) throws IOException {
    Query.of(request);
    PersonInput input = PersonInput.added(bodies.submission(request));
    People.Outcome outcome = people.add(input.name(), input.email(), input.roles());
    Person person = done(outcome, input, input.name());
    LoggedCalls.to(request, "people/" + person.name());
    return Reply.json(
        Reply.status(201),
        new Added(PersonReply.of(person), newLink(person, request), roles.of(person.roles())));
  }

  private Link newLink(Person person, HttpServletRequest request) {
    String page = request.getRequestURL().toString();
    String origin =
        mails
            .origin()
            .orElseGet(() -> page.substring(0, page.length() - request.getRequestURI().length()));
    String link = origin + "/set-password?link=" + people.newLink(person);
    Instant until = clock.instant().plus(People.LINK).truncatedTo(ChronoUnit.SECONDS);
    PasswordMails.Outcome mail =
        mails.send(person, link, until, forms.sentences(Caller.current().languages()));
    return new Link(link, until.toString(), mail.to(), mail.failure());
  }

  /** Gives somebody an address and roles in place of those before, at once. */
  @Logged("change-person")
  @Needs(Right.ADMIN)
  @PutMapping("/{person}")
  ResponseEntity<byte[]> change(@PathVariable String person, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Person before = known.find(person);
    PersonInput input = PersonInput.changed(bodies.submission(request));
    People.Outcome outcome = people.change(before.id(), input.email(), input.roles());
    return Reply.ok(
        new Changed(PersonReply.of(done(outcome, input, person)), roles.of(input.roles())));
  }

  /** Removes somebody, with their sessions and links, at once. */
  @Logged("remove-person")
  @Needs(Right.ADMIN)
  @DeleteMapping("/{person}")
  ResponseEntity<byte[]> remove(@PathVariable String person, HttpServletRequest request) {
    Query.of(request);
    return switch (people.remove(known.find(person).id())) {
      case People.Outcome.LastAdmin _ -> throw KnownPeople.lastAdmin();
      case People.Outcome.Gone _ -> throw known.noSuchPerson(person);
      case People.Outcome.Done _, People.Outcome.Taken _ -> Reply.status(204).build();
    };
  }

  /** Makes a link; the one before it ends. */
  @Logged("make-link")
  @Needs(Right.ADMIN)
  @PostMapping("/{person}/link")
  ResponseEntity<byte[]> link(@PathVariable String person, HttpServletRequest request) {
    Query.of(request);
    Person whose = known.find(person);
    return Reply.json(Reply.status(201), new NewLink(whose.name(), newLink(whose, request)));
  }

  private Person done(People.Outcome outcome, PersonInput input, String name) {
    return switch (outcome) {
      case People.Outcome.Done(Person person) -> person;
      case People.Outcome.Taken(var what) -> throw input.taken(what);
      case People.Outcome.Gone _ -> throw known.noSuchPerson(name);
      case People.Outcome.LastAdmin _ -> throw KnownPeople.lastAdmin();
    };
  }
}
