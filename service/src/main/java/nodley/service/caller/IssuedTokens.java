package nodley.service.caller;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.proc.BadJOSEException;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import java.text.ParseException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Date;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import nodley.service.issuer.Issuer;
import nodley.service.issuer.IssuerUnreachable;
import nodley.service.issuer.Issuers;
import nodley.service.limits.IssuerSettings;
import nodley.service.problem.Problem;
import nodley.store.access.IssuedPerson;
import org.springframework.stereotype.Component;

/**
 * Tokens of issuers: JSON Web Tokens (RFC 7519) with a signature (RFC 7515), by which people of
 * theirs call. Audience and times are checked on each call, issuer and signature unless they were a
 * moment ago. Thread-safe.
 */
@Component
public final class IssuedTokens {

  /** Clocks of two machines may differ by so much. */
  private static final Duration SKEW = Duration.ofSeconds(30);

  /** For so long a signature is not verified again, and a key that was taken back is good still. */
  private static final Duration VERIFIED = Duration.ofSeconds(5);

  private static final int MOST_VERIFIED = 1_000;

  /** Tokens whose signatures were verified a moment ago. */
  private final Cache<String, Verified> verified;

  private final Issuers issuers;
  private final Clock clock;

  /**
   * A token whose signature was good.
   *
   * @param person whom it is for; empty if it says nobody
   */
  private record Verified(
      IssuerSettings issuer, JWTClaimsSet claims, Optional<IssuedPerson> person) {}

  IssuedTokens(Issuers issuers, Clock clock) {
    this.issuers = issuers;
    this.clock = clock;
    this.verified =
        Caffeine.newBuilder()
            .maximumSize(MOST_VERIFIED)
            .expireAfterWrite(VERIFIED)
            .ticker(() -> TimeUnit.MILLISECONDS.toNanos(clock.millis()))
            .build();
  }

  /**
   * Returns who shows a token; empty if it is no token of an issuer.
   *
   * @throws Problem 503 if the issuer's keys cannot be had now
   */
  Optional<Caller> find(String token, List<Locale> languages) {
    if (!issuers.haveTokens()) {
      return Optional.empty();
    }
    Verified before = verified.getIfPresent(token);
    if (before != null) {
      return Optional.of(caller(before, languages));
    }
    if (token.chars().filter(it -> it == '.').count() != 2) {
      return Optional.empty();
    }
    SignedJWT jwt;
    Optional<Issuer> issuer;
    try {
      jwt = SignedJWT.parse(token);
      issuer =
          issuers
              .at(String.valueOf(jwt.getJWTClaimsSet().getIssuer()))
              .filter(it -> !it.settings().audience().isEmpty());
    } catch (ParseException | IllegalArgumentException e) {
      return Optional.empty();
    }
    return Optional.of(
        issuer
            .map(it -> caller(token, jwt, it, languages))
            .orElseGet(
                () ->
                    new Caller.InvalidToken(
                        "The token is of an issuer that is not known here.", languages)));
  }

  private Caller caller(String token, SignedJWT jwt, Issuer issuer, List<Locale> languages) {
    String name = issuer.settings().label();
    try {
      JWTClaimsSet claims = issuer.signatures().process(jwt, null);
      Verified now = new Verified(issuer.settings(), claims, issuer.person(claims.getClaims()));
      verified.put(token, now);
      return caller(now, languages);
    } catch (IssuerUnreachable e) {
      throw Problem.of(
              503,
              "issuer-unreachable",
              "The token cannot be checked now",
              "The keys of " + name + " cannot be had; try again shortly.")
          .header("Retry-After", "10");
    } catch (BadJOSEException | JOSEException | IllegalArgumentException e) {
      return new Caller.InvalidToken(
          "The token's signature is not one of " + name + ".", languages);
    }
  }

  private Caller caller(Verified token, List<Locale> languages) {
    Optional<String> wrong = wrong(token.claims(), token.issuer());
    return wrong.isPresent()
        ? new Caller.InvalidToken(wrong.get(), languages)
        : token
            .person()
            .<Caller>map(it -> Caller.Known.of(it, languages))
            .orElseGet(
                () ->
                    new Caller.InvalidToken(
                        "The token says nobody in sub: one line, up to 200 characters.",
                        languages));
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
    return Optional.empty();
  }
}
