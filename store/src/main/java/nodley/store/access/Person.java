package nodley.store.access;

import java.util.Set;

/**
 * Somebody who signs in here with a password, without the password.
 *
 * @param id {@code own:} and random digits; never given to anybody else
 * @param name what they sign in with; unique regardless of case
 * @param email an address that they may sign in with as well; empty if none is known
 * @param roles what they may do; none is as much as signing in
 * @param hasPassword false until they have set one by their link
 * @param madeAt RFC 3339
 * @param signedInAt when they last signed in, RFC 3339; empty if never
 */
public record Person(
    String id,
    String name,
    String email,
    Set<String> roles,
    boolean hasPassword,
    String madeAt,
    String signedInAt) {

  public Person {
    roles = Set.copyOf(roles);
  }

  /** The same person with another address and other roles. */
  Person with(String otherEmail, Set<String> otherRoles) {
    return new Person(id, name, otherEmail, otherRoles, hasPassword, madeAt, signedInAt);
  }

  /** The same person once they have set a password. */
  Person withPassword() {
    return new Person(id, name, email, roles, true, madeAt, signedInAt);
  }

  /** The same person after signing in at a moment. */
  Person signedIn(String moment) {
    return new Person(id, name, email, roles, hasPassword, madeAt, moment);
  }

  /** True if they may do everything. */
  boolean isAdmin() {
    return roles.contains(Roles.ADMIN);
  }
}
