package nodley.service.issuer;

import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.proc.DefaultJOSEObjectTypeVerifier;
import com.nimbusds.jose.proc.JWSVerificationKeySelector;
import com.nimbusds.jose.proc.SecurityContext;
import com.nimbusds.jwt.proc.DefaultJWTProcessor;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Semaphore;
import java.util.stream.Stream;
import nodley.core.form.Access;
import nodley.core.value.Addresses;
import nodley.core.value.OneLine;
import nodley.service.limits.IssuerSettings;
import nodley.store.access.IssuedPerson;
import nodley.store.access.Roles;

/** One issuer: what is set of it, what it publishes, and whom its claims mean. Thread-safe. */
public final class Issuer {

  private static final int LONGEST_SUBJECT = 200;
  private static final int LONGEST_NAME = 100;

  /** Signatures by keys of which everybody may know the one half; never {@code none}. */
  private static final Set<JWSAlgorithm> ALGORITHMS =
      Set.of(
          JWSAlgorithm.RS256,
          JWSAlgorithm.RS384,
          JWSAlgorithm.RS512,
          JWSAlgorithm.PS256,
          JWSAlgorithm.PS384,
          JWSAlgorithm.PS512,
          JWSAlgorithm.ES256,
          JWSAlgorithm.ES384,
          JWSAlgorithm.ES512);

  /** Those of access tokens too (RFC 9068, section 2.1); of no other kind of token. */
  private static final DefaultJOSEObjectTypeVerifier<SecurityContext> TYPES =
      new DefaultJOSEObjectTypeVerifier<>(
          JOSEObjectType.JWT,
          new JOSEObjectType("at+jwt"),
          new JOSEObjectType("application/at+jwt"),
          null);

  /** So many sign-ins ask an issuer at once; each holds a thread while it waits. */
  private static final int AT_ONCE = 8;

  private final IssuerSettings settings;
  private final Semaphore free = new Semaphore(AT_ONCE);
  private final Published<Map<String, Object>> configuration;
  private final DefaultJWTProcessor<SecurityContext> signatures = new DefaultJWTProcessor<>();

  Issuer(IssuerSettings settings, Clock clock) {
    this.settings = settings;
    var documents = new IssuerDocuments(settings);
    this.configuration = new Published<>(documents::configuration, clock);
    var keys = new IssuerKeys(settings.name(), new Published<JWKSet>(documents::keys, clock));
    signatures.setJWSKeySelector(new JWSVerificationKeySelector<>(ALGORITHMS, keys));
    signatures.setJWSTypeVerifier(TYPES);
    // Claims are checked by whoever asks, each with a sentence of its own.
    signatures.setJWTClaimsSetVerifier((_, _) -> {});
  }

  /** Returns what the settings say of this issuer. */
  public IssuerSettings settings() {
    return settings;
  }

  /** Permits for asking it: one that does not answer holds up nobody at the others. */
  Semaphore free() {
    return free;
  }

  /** Its configuration (OpenID Connect Discovery 1.0); empty if it cannot be had now. */
  Optional<Map<String, Object>> configuration() {
    return configuration.current();
  }

  /**
   * Verifies signatures of its tokens, and nothing of what they claim. It throws {@link
   * IssuerUnreachable} while the keys cannot be had.
   */
  public DefaultJWTProcessor<SecurityContext> signatures() {
    return signatures;
  }

  /**
   * Returns whom claims mean.
   *
   * @param claims signed by the issuer; their times and audience are good
   * @return empty if they say nobody: the subject is one line of 1 to 200 characters
   */
  public Optional<IssuedPerson> person(Map<String, Object> claims) {
    String subject = claims.get("sub") instanceof String text ? text : "";
    if (subject.isBlank()
        || !OneLine.isPlain(subject)
        || !OneLine.isUpTo(LONGEST_SUBJECT, subject)) {
      return Optional.empty();
    }
    String name =
        Stream.of("name", "preferred_username")
            .map(it -> text(claims, it))
            .filter(it -> !it.isBlank() && OneLine.isPlain(it) && OneLine.isUpTo(LONGEST_NAME, it))
            .findFirst()
            .orElse(subject);
    String email = text(claims, "email");
    boolean isTold =
        Addresses.isEmail(email) && !Boolean.FALSE.equals(claims.get("email_verified"));
    return Optional.of(
        new IssuedPerson(
            settings.name(),
            settings.name() + ":" + subject,
            name,
            isTold ? email : "",
            roles(claims)));
  }

  private static String text(Map<String, Object> claims, String name) {
    return claims.get(name) instanceof String text ? text.strip() : "";
  }

  /** The built-in roles are given by name in the settings alone. */
  private Set<String> roles(Map<String, Object> claims) {
    Object claim = claims;
    for (String step : settings.rolesClaim().split("\\.")) {
      claim = claim instanceof Map<?, ?> members ? members.get(step) : null;
    }
    List<?> values =
        switch (claim) {
          case List<?> list -> list;
          case String text -> List.of(text.split(" "));
          case null, default -> List.of();
        };
    Map<String, String> byValue = settings.roleByValue();
    Set<String> roles = new TreeSet<>();
    for (Object each : values) {
      String value = String.valueOf(each);
      String role = byValue.isEmpty() ? value : byValue.get(value);
      boolean isRole =
          role != null
              && Access.ROLE.matcher(role).matches()
              && !Access.Who.RESERVED.contains(role);
      if (isRole && (!byValue.isEmpty() || !Roles.BUILT_IN.contains(role))) {
        roles.add(role);
      }
    }
    return roles;
  }
}
