package nodley.service.caller;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.proc.BadJOSEException;
import com.nimbusds.jose.proc.DefaultJOSEObjectTypeVerifier;
import com.nimbusds.jose.proc.JWSVerificationKeySelector;
import com.nimbusds.jose.proc.SecurityContext;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import com.nimbusds.jwt.proc.DefaultJWTProcessor;
import java.text.ParseException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import nodley.core.form.Access;
import nodley.core.value.Addresses;
import nodley.service.limits.IssuerSettings;
import nodley.service.limits.SignInSettings;
import nodley.service.problem.Problem;
import nodley.store.access.Key;
import org.springframework.stereotype.Component;

/**
 * Tokens of issuers: JSON Web Tokens (RFC 7519) with a signature (RFC 7515), by which people of
 * theirs call. Issuer, audience, times and signature are checked on each call. Thread-safe.
 */
@Component
public final class IssuedTokens {

  /** Clocks of two machines may differ by so much. */
  private static final Duration SKEW = Duration.ofSeconds(30);

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

  private final Map<String, Issuer> issuers = new HashMap<>();
  private final Clock clock;

  private record Issuer(IssuerSettings settings, DefaultJWTProcessor<SecurityContext> signatures) {}

  IssuedTokens(SignInSettings settings, Clock clock) {
    this.clock = clock;
    for (IssuerSettings each : settings.issuers()) {
      DefaultJWTProcessor<SecurityContext> signatures = new DefaultJWTProcessor<>();
      signatures.setJWSKeySelector(
          new JWSVerificationKeySelector<>(ALGORITHMS, new IssuerKeys(each, clock)));
      signatures.setJWSTypeVerifier(TYPES);
      // Claims are checked here, each with a sentence of its own.
      signatures.setJWTClaimsSetVerifier((_, _) -> {});
      issuers.put(each.uri(), new Issuer(each, signatures));
    }
  }

  /**
   * Returns who shows a token; empty if it is no token of an issuer.
   *
   * @throws Problem 503 if the issuer's keys cannot be had now
   */
  Optional<Caller> find(String token, List<Locale> languages) {
    if (issuers.isEmpty() || token.chars().filter(it -> it == '.').count() != 2) {
      return Optional.empty();
    }
    SignedJWT jwt;
    Issuer issuer;
    try {
      jwt = SignedJWT.parse(token);
      issuer = issuers.get(String.valueOf(jwt.getJWTClaimsSet().getIssuer()));
    } catch (ParseException | IllegalArgumentException e) {
      return Optional.empty();
    }
    if (issuer == null) {
      return Optional.of(
          new Caller.InvalidToken("The token is of an issuer that is not known here.", languages));
    }
    try {
      JWTClaimsSet claims = issuer.signatures().process(jwt, null);
      return Optional.of(
          wrong(claims, issuer.settings())
              .<Caller>map(why -> new Caller.InvalidToken(why, languages))
              .orElseGet(() -> caller(claims, issuer.settings(), languages)));
    } catch (IssuerKeys.Unreachable e) {
      throw Problem.of(
              503,
              "issuer-unreachable",
              "The token cannot be checked now",
              "The keys of " + issuer.settings().name() + " cannot be had; try again shortly.")
          .header("Retry-After", "10");
    } catch (BadJOSEException | JOSEException | IllegalArgumentException e) {
      return Optional.of(
          new Caller.InvalidToken(
              "The token's signature is not one of " + issuer.settings().name() + ".", languages));
    }
  }

  /** What is wrong with claims that were signed; empty if nothing is. */
  private Optional<String> wrong(JWTClaimsSet claims, IssuerSettings issuer) {
    Instant now = clock.instant();
    Date end = claims.getExpirationTime();
    if (!claims.getAudience().contains(issuer.audience())) {
      return Optional.of("The token is for another audience.");
    }
    if (end == null || !now.isBefore(end.toInstant().plus(SKEW))) {
      return Optional.of(
          end == null
              ? "The token says no end (exp)."
              : "The token ended at " + end.toInstant() + ".");
    }
    Date begin = claims.getNotBeforeTime();
    if (begin != null && now.isBefore(begin.toInstant().minus(SKEW))) {
      return Optional.of("The token begins at " + begin.toInstant() + ".");
    }
    String subject = claims.getSubject();
    if (subject == null
        || subject.isBlank()
        || !OneLine.isPlain(subject)
        || !OneLine.isUpTo(LONGEST_SUBJECT, subject)) {
      return Optional.of(
          "The token says nobody in sub: one line, up to " + LONGEST_SUBJECT + " characters.");
    }
    return Optional.empty();
  }

  private static Caller caller(JWTClaimsSet claims, IssuerSettings issuer, List<Locale> languages) {
    String id = issuer.name() + ":" + claims.getSubject();
    String name =
        Stream.of("name", "preferred_username")
            .map(it -> text(claims, it))
            .filter(it -> !it.isBlank() && OneLine.isPlain(it) && OneLine.isUpTo(LONGEST_NAME, it))
            .findFirst()
            .orElse(claims.getSubject());
    String email = text(claims, "email");
    boolean isTold =
        Addresses.isEmail(email) && !Boolean.FALSE.equals(claims.getClaim("email_verified"));
    return new Caller.Known(
        id, name, id, isTold ? email : "", false, roles(claims, issuer), Set.of(), languages);
  }

  private static String text(JWTClaimsSet claims, String name) {
    return claims.getClaim(name) instanceof String text ? text.strip() : "";
  }

  /** The built-in roles are given by name in the settings alone. */
  private static Set<String> roles(JWTClaimsSet claims, IssuerSettings issuer) {
    Object claim = claims.getClaims();
    for (String step : issuer.rolesClaim().split("\\.")) {
      claim = claim instanceof Map<?, ?> members ? members.get(step) : null;
    }
    List<?> values =
        switch (claim) {
          case List<?> list -> list;
          case String text -> List.of(text.split(" "));
          case null, default -> List.of();
        };
    Map<String, String> byValue = issuer.roleByValue();
    Set<String> roles = new TreeSet<>();
    for (Object each : values) {
      String value = String.valueOf(each);
      String role = byValue.isEmpty() ? value : byValue.get(value);
      boolean isRole =
          role != null
              && Access.ROLE.matcher(role).matches()
              && !Access.Who.RESERVED.contains(role);
      if (isRole && (!byValue.isEmpty() || !isBuiltIn(role))) {
        roles.add(role);
      }
    }
    return roles;
  }

  private static boolean isBuiltIn(String role) {
    return List.of(Key.ADMIN, Authorization.AUTHOR, Authorization.OPERATOR, Authorization.VOUCH)
        .contains(role);
  }
}
