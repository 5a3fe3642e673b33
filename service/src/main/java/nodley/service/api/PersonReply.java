package nodley.service.api;

import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import nodley.store.access.Person;

/**
 * A person as admins are told of them.
 *
 * @param email empty if none is known
 * @param madeAt when they were added: RFC 3339, UTC
 * @param signedInAt when they signed in last; left out if they never did
 */
record PersonReply(
    String id,
    String name,
    String email,
    SortedSet<String> roles,
    boolean hasPassword,
    String madeAt,
    Optional<String> signedInAt) {

  static PersonReply of(Person person) {
    return new PersonReply(
        person.id(),
        person.name(),
        person.email(),
        new TreeSet<>(person.roles()),
        person.hasPassword(),
        person.madeAt(),
        Optional.of(person.signedInAt()).filter(it -> !it.isEmpty()));
  }
}
