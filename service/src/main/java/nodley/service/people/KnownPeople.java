package nodley.service.people;

import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import org.springframework.stereotype.Component;

/** Finds people who are kept here, or says that there is no such person. */
@Component
public final class KnownPeople {

  private final People people;

  KnownPeople(Store store) {
    this.people = store.people();
  }

  /**
   * Returns the person of an id, or of a name.
   *
   * @throws Problem 404 if there is none
   */
  public Person find(String idOrName) {
    return people.named(idOrName).orElseThrow(() -> noSuchPerson(idOrName));
  }

  /** Returns the problem that there is no such person, with the name that may have been meant. */
  public Problem noSuchPerson(String name) {
    return Problem.of(
        404,
        "no-such-person",
        "There is no such person",
        "There is no person \""
            + Wellformed.of(name)
            + "\"."
            + Near.to(name, people.names())
                .map(near -> " Did you mean \"" + near + "\"?")
                .orElse(""));
  }

  /** Returns the problem that nobody could give the role admin any more. */
  public static Problem lastAdmin() {
    return Problem.of(
        409,
        "last-admin",
        "This is the last admin",
        "Make somebody else an admin first, or a key with the role admin: without one nobody could"
            + " give this role any more.");
  }
}
