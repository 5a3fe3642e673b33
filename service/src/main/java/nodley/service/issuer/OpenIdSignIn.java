package nodley.service.issuer;

import jakarta.servlet.http.HttpServletRequest;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Semaphore;
import nodley.core.value.OneLine;
import nodley.store.Store;
import nodley.store.access.IssuedPerson;
import nodley.store.access.Sessions;
import nodley.store.access.SignedTokens;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.authentication.AuthenticationProvider;
import org.springframework.security.core.AuthenticationException;
import org.springframework.security.oauth2.client.authentication.OAuth2LoginAuthenticationToken;
import org.springframework.security.oauth2.client.registration.ClientRegistration;
import org.springframework.security.oauth2.client.web.DefaultOAuth2AuthorizationRequestResolver;
import org.springframework.security.oauth2.client.web.OAuth2AuthorizationRequestCustomizers;
import org.springframework.security.oauth2.core.endpoint.OAuth2AuthorizationExchange;
import org.springframework.security.oauth2.core.endpoint.OAuth2AuthorizationRequest;
import org.springframework.security.oauth2.core.endpoint.OAuth2AuthorizationResponse;
import org.springframework.security.oauth2.core.oidc.user.OidcUser;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.support.ServletUriComponentsBuilder;
import org.springframework.web.util.UriComponentsBuilder;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * Signs people in at an issuer: OpenID Connect Core 1.0, authorization code (section 3.1) with PKCE
 * (RFC 7636). What was begun waits in a signed cookie of the browser that began it, and nowhere
 * else. Spring Security speaks the protocol. Thread-safe.
 */
@Component
public final class OpenIdSignIn {

  private static final Logger LOG = LoggerFactory.getLogger(OpenIdSignIn.class);

  /** How long somebody may take at the issuer. */
  public static final Duration TIME = Duration.ofMinutes(10);

  private static final String PURPOSE = "sign-in";
  private static final String NONCE = "nonce";
  private static final String VERIFIER = "code_verifier";
  private static final JsonMapper JSON = JsonMapper.shared();

  private final SignedTokens tokens;
  private final Clock clock;

  /**
   * What was begun, as its cookie has it.
   *
   * @param to the path that is gone to afterwards
   * @param end seconds since 1970
   */
  private record Pending(
      String issuer,
      String to,
      String state,
      String nonce,
      String verifier,
      String redirect,
      long end) {}

  /**
   * What is to be done to begin.
   *
   * @param address where the browser is sent
   * @param cookie a value that it must bring back
   */
  public record Begun(URI address, String cookie) {}

  /**
   * What a browser comes back with (RFC 6749, section 4.1.2; RFC 9207).
   *
   * @param cookie what {@link #begin} gave it
   * @param issuer the address of who sent it back
   */
  public record Returned(
      Optional<String> cookie,
      Optional<String> state,
      Optional<String> code,
      Optional<String> error,
      Optional<String> issuer) {}

  /** Who signed in, and the path that is gone to. */
  public record Finished(Sessions.Issued issued, String to) {}

  /** Why nobody was signed in. */
  public enum Why {
    /** Not in this browser, or too long ago. */
    NOT_BEGUN(400),
    /** The person gave up, or the issuer does not let them. */
    DECLINED(403),
    /** The issuer told of an error of its own. */
    FAILED(403),
    /** Something of what came back is not as it must be. */
    NOT_TRUSTED(403),
    /** The issuer does not answer. */
    UNREACHABLE(503),
    /** Too many wait for issuers. */
    BUSY(503);

    private final int status;

    Why(int status) {
      this.status = status;
    }

    /** Returns the status of the answer. */
    public int status() {
      return status;
    }

    /** Returns the name of its sentence. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /** Nobody was signed in. */
  public static final class Failed extends Exception {
    private static final long serialVersionUID = 1;
    private final Why why;

    Failed(Why why) {
      super(why.word());
      this.why = why;
    }

    public Why why() {
      return why;
    }
  }

  OpenIdSignIn(Store store, Clock clock) {
    this.tokens = store.tokens();
    this.clock = clock;
  }

  /**
   * Begins.
   *
   * @param to the path that is gone to afterwards
   * @throws Failed if the issuer cannot be reached
   */
  public Begun begin(Issuer issuer, String to, HttpServletRequest request) throws Failed {
    String name = issuer.settings().name();
    ClientRegistration registration = registration(issuer);
    var resolver = new DefaultOAuth2AuthorizationRequestResolver(_ -> registration);
    resolver.setAuthorizationRequestCustomizer(OAuth2AuthorizationRequestCustomizers.withPkce());
    OAuth2AuthorizationRequest asked = resolver.resolve(request, name);
    Pending pending =
        new Pending(
            name,
            to,
            asked.getState(),
            asked.getAttribute(NONCE),
            asked.getAttribute(VERIFIER),
            asked.getRedirectUri(),
            clock.instant().plus(TIME).getEpochSecond());
    return new Begun(
        URI.create(asked.getAuthorizationRequestUri()),
        tokens.seal(PURPOSE, JSON.writeValueAsString(pending)));
  }

  /**
   * Finishes, once the issuer has sent the browser back.
   *
   * @throws Failed if nobody is signed in
   */
  public Finished finish(Issuer issuer, Returned returned) throws Failed {
    Pending pending = pending(issuer, returned);
    ClientRegistration registration = registration(issuer);
    if (returned.error().isPresent()) {
      throw new Failed(returned.error().get().equals("access_denied") ? Why.DECLINED : Why.FAILED);
    }
    boolean isOfAnother =
        returned.issuer().filter(it -> !it.equals(issuer.settings().uri())).isPresent();
    if (returned.code().isEmpty() || isOfAnother) {
      throw new Failed(Why.NOT_TRUSTED);
    }
    OAuth2AuthorizationRequest asked = asked(registration, pending);
    OAuth2AuthorizationResponse answered =
        OAuth2AuthorizationResponse.success(returned.code().get())
            .redirectUri(pending.redirect())
            .state(pending.state())
            .build();
    Semaphore free = issuer.free();
    if (!free.tryAcquire()) {
      throw new Failed(Why.BUSY);
    }
    try {
      return new Finished(exchanged(issuer, registration, asked, answered), pending.to());
    } finally {
      free.release();
    }
  }

  private Sessions.Issued exchanged(
      Issuer issuer,
      ClientRegistration registration,
      OAuth2AuthorizationRequest asked,
      OAuth2AuthorizationResponse answered)
      throws Failed {
    AuthenticationProvider provider = OpenIdClient.of(issuer, clock);
    try {
      var authentication =
          provider.authenticate(
              new OAuth2LoginAuthenticationToken(
                  registration, new OAuth2AuthorizationExchange(asked, answered)));
      OidcUser user = (OidcUser) authentication.getPrincipal();
      IssuedPerson person =
          issuer.person(user.getClaims()).orElseThrow(() -> new Failed(Why.NOT_TRUSTED));
      return new Sessions.Issued(person, user.getIdToken().getTokenValue());
    } catch (AuthenticationException e) {
      // What is wrong is for whoever runs the service; a stranger could learn from it.
      LOG.warn(
          "Nobody was signed in by {}: {}", issuer.settings().name(), OneLine.cut(e.toString()));
      throw new Failed(OpenIdClient.isUnreachable(e) ? Why.UNREACHABLE : Why.NOT_TRUSTED);
    }
  }

  /** What was begun in this browser, if it is this that was. */
  private Pending pending(Issuer issuer, Returned returned) throws Failed {
    String state = returned.state().orElse("");
    return returned
        .cookie()
        .flatMap(it -> tokens.open(PURPOSE, it))
        .flatMap(OpenIdSignIn::read)
        .filter(
            it ->
                it.issuer().equals(issuer.settings().name())
                    && it.state().equals(state)
                    && clock.instant().getEpochSecond() < it.end())
        .orElseThrow(() -> new Failed(Why.NOT_BEGUN));
  }

  private static Optional<Pending> read(String json) {
    try {
      return Optional.of(JSON.readValue(json, Pending.class));
    } catch (JacksonException e) {
      // An earlier Nodley wrote it.
      return Optional.empty();
    }
  }

  private static OAuth2AuthorizationRequest asked(
      ClientRegistration registration, Pending pending) {
    return OAuth2AuthorizationRequest.authorizationCode()
        .authorizationUri(registration.getProviderDetails().getAuthorizationUri())
        .clientId(registration.getClientId())
        .redirectUri(pending.redirect())
        .scopes(registration.getScopes())
        .state(pending.state())
        .attributes(Map.of(NONCE, pending.nonce(), VERIFIER, pending.verifier()))
        .build();
  }

  private static ClientRegistration registration(Issuer issuer) throws Failed {
    Map<String, Object> configuration =
        issuer.configuration().orElseThrow(() -> new Failed(Why.UNREACHABLE));
    try {
      return OpenIdClient.registration(issuer.settings(), configuration);
    } catch (RuntimeException e) {
      // Spring Security has no type of its own for a configuration that lacks something.
      LOG.warn(
          "The configuration of {} is not one of OpenID Connect: {}",
          issuer.settings().name(),
          OneLine.cut(e.toString()));
      throw new Failed(Why.UNREACHABLE);
    }
  }

  /**
   * Returns where a browser goes so that the issuer ends its session, too (OpenID Connect
   * RP-Initiated Logout 1.0, section 2); empty if the issuer offers none, or cannot be reached.
   */
  public Optional<URI> ending(Issuer issuer, Sessions.Issued issued) {
    String back =
        ServletUriComponentsBuilder.fromCurrentContextPath().path("/sign-in").toUriString();
    return issuer
        .configuration()
        .map(it -> it.get("end_session_endpoint"))
        .map(
            end ->
                UriComponentsBuilder.fromUriString(String.valueOf(end))
                    .queryParam("id_token_hint", "{token}")
                    .queryParam("client_id", "{client}")
                    .queryParam("post_logout_redirect_uri", "{back}")
                    .encode()
                    .build(issued.idToken(), issuer.settings().clientId(), back));
  }
}
