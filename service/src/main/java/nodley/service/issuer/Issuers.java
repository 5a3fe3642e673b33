package nodley.service.issuer;

import java.time.Clock;
import java.util.List;
import java.util.Optional;
import nodley.service.limits.SignInSettings;
import org.springframework.stereotype.Component;

/**
 * The issuers that the settings name, in their order: those at which people sign in, and those
 * whose tokens are accepted. Making this asks none of them; each is asked when it is first needed.
 * Thread-safe.
 */
@Component
public final class Issuers {

  private final List<Issuer> all;
  private final boolean haveTokens;

  Issuers(SignInSettings settings, Clock clock) {
    this.all = settings.issuers().stream().map(it -> new Issuer(it, clock)).toList();
    this.haveTokens = all.stream().anyMatch(it -> !it.settings().audience().isEmpty());
  }

  /** Returns those at which people sign in by OpenID Connect. */
  public List<Issuer> forSigningIn() {
    return all.stream().filter(it -> !it.settings().clientId().isEmpty()).toList();
  }

  /** Returns the one of a name, if people sign in there by OpenID Connect. */
  public Optional<Issuer> forSigningIn(String name) {
    return forSigningIn().stream().filter(it -> it.settings().name().equals(name)).findFirst();
  }

  /** Returns whether any has tokens that are accepted here. */
  public boolean haveTokens() {
    return haveTokens;
  }

  /** Returns the one of an address, as tokens have it in {@code iss}. */
  public Optional<Issuer> at(String uri) {
    return all.stream().filter(it -> it.settings().uri().equals(uri)).findFirst();
  }
}
