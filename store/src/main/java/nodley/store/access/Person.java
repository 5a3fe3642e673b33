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

  /** True if they may do everything. */
  boolean isAdmin() {
    return roles.contains(Key.ADMIN);
  }
}
