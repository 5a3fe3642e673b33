package nodley.store.access;

import java.util.Set;

/**
 * Somebody of whom an issuer tells, as it told.
 *
 * @param issuer its name in the settings
 * @param id the issuer's name, a colon, and what the issuer calls them; never anybody else's
 * @param name shown to others
 * @param email empty if none is known
 * @param roles what they may do; none is as much as signing in
 */
public record IssuedPerson(String issuer, String id, String name, String email, Set<String> roles) {

  public IssuedPerson {
    roles = Set.copyOf(roles);
  }
}
