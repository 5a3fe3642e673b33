package nodley.store.access;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.Set;

/**
 * A key of a program, without its secret.
 *
 * @param roles what its holder may do; none is as much as signing in
 * @param forms the names of the forms that it is good for; empty for all
 * @param until the last day that it is good for, in UTC
 * @param madeAt when it was made (RFC 3339); empty for one that an earlier version made
 * @param lastUse when and from where it was last shown
 */
public record Key(
    String name,
    Set<String> roles,
    Set<String> forms,
    Optional<LocalDate> until,
    String madeAt,
    Optional<Use> lastUse) {

  /** A use of a key: the day, in UTC, and the network address. */
  public record Use(LocalDate day, String address) {}

  public Key {
    roles = Set.copyOf(roles);
    forms = Set.copyOf(forms);
  }

  /** The same key after a use. */
  Key usedAt(Use use) {
    return new Key(name, roles, forms, until, madeAt, Optional.of(use));
  }

  /** True if its last day is not over. */
  boolean isGood(Instant now) {
    return until.isEmpty() || !now.atZone(ZoneOffset.UTC).toLocalDate().isAfter(until.get());
  }

  /** True if whoever holds it may do everything, everywhere. */
  boolean isAdmin() {
    return roles.contains(Roles.ADMIN) && forms.isEmpty();
  }
}
