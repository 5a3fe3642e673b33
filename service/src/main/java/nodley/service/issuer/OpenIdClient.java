package nodley.service.issuer;

import java.net.http.HttpClient;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import nodley.service.limits.IssuerSettings;
import org.springframework.http.client.ClientHttpRequestFactory;
import org.springframework.http.client.JdkClientHttpRequestFactory;
import org.springframework.http.converter.FormHttpMessageConverter;
import org.springframework.security.authentication.AuthenticationProvider;
import org.springframework.security.oauth2.client.endpoint.RestClientAuthorizationCodeTokenResponseClient;
import org.springframework.security.oauth2.client.http.OAuth2ErrorResponseErrorHandler;
import org.springframework.security.oauth2.client.oidc.authentication.OidcAuthorizationCodeAuthenticationProvider;
import org.springframework.security.oauth2.client.oidc.authentication.OidcIdTokenDecoderFactory;
import org.springframework.security.oauth2.client.oidc.authentication.OidcIdTokenValidator;
import org.springframework.security.oauth2.client.oidc.userinfo.OidcUserService;
import org.springframework.security.oauth2.client.registration.ClientRegistration;
import org.springframework.security.oauth2.client.registration.ClientRegistrations;
import org.springframework.security.oauth2.client.userinfo.DefaultOAuth2UserService;
import org.springframework.security.oauth2.core.ClientAuthenticationMethod;
import org.springframework.security.oauth2.core.DelegatingOAuth2TokenValidator;
import org.springframework.security.oauth2.core.http.converter.OAuth2AccessTokenResponseHttpMessageConverter;
import org.springframework.security.oauth2.jwt.JwtDecoder;
import org.springframework.security.oauth2.jwt.JwtTimestampValidator;
import org.springframework.security.oauth2.jwt.NimbusJwtDecoder;
import org.springframework.web.client.ResourceAccessException;
import org.springframework.web.client.RestClient;
import org.springframework.web.client.RestTemplate;

/**
 * Spring Security's client of OpenID Connect, as it is used here: without redirects, with bounded
 * waiting, and with the service's clock.
 */
final class OpenIdClient {

  private static final Duration CONNECT = Duration.ofSeconds(2);

  /** For the whole of an answer. */
  private static final Duration READ = Duration.ofSeconds(5);

  private static final ClientHttpRequestFactory REQUESTS = requests();

  private OpenIdClient() {}

  /** What the service is to an issuer. */
  static ClientRegistration registration(
      IssuerSettings settings, Map<String, Object> configuration) {
    ClientRegistration.Builder registration =
        ClientRegistrations.fromOidcConfiguration(configuration)
            .registrationId(settings.name())
            .clientId(settings.clientId())
            .clientSecret(settings.clientSecret())
            .scope(settings.scopes())
            .redirectUri("{baseUrl}/sign-in/from/{registrationId}");
    if (settings.clientSecret().isEmpty()) {
      registration.clientAuthenticationMethod(ClientAuthenticationMethod.NONE);
    }
    return registration.build();
  }

  /** Exchanges a code for tokens, and checks them. */
  static AuthenticationProvider of(Issuer issuer, Clock clock) {
    var tokens = new RestClientAuthorizationCodeTokenResponseClient();
    tokens.setRestClient(
        RestClient.builder()
            .requestFactory(REQUESTS)
            .configureMessageConverters(
                converters ->
                    converters
                        .addCustomConverter(new FormHttpMessageConverter())
                        .addCustomConverter(new OAuth2AccessTokenResponseHttpMessageConverter()))
            .defaultStatusHandler(new OAuth2ErrorResponseErrorHandler())
            .build());
    var infoRequests = new RestTemplate(REQUESTS);
    infoRequests.setErrorHandler(new OAuth2ErrorResponseErrorHandler());
    var info = new DefaultOAuth2UserService();
    info.setRestOperations(infoRequests);
    var users = new OidcUserService();
    users.setOauth2UserService(info);
    var provider = new OidcAuthorizationCodeAuthenticationProvider(tokens, users);
    provider.setJwtDecoderFactory(registration -> decoder(issuer, registration, clock));
    return provider;
  }

  private static ClientHttpRequestFactory requests() {
    var requests =
        new JdkClientHttpRequestFactory(
            HttpClient.newBuilder()
                .version(HttpClient.Version.HTTP_1_1)
                .connectTimeout(CONNECT)
                .followRedirects(HttpClient.Redirect.NEVER)
                .build());
    requests.setReadTimeout(READ);
    return requests;
  }

  /** OpenID Connect Core 1.0, section 3.1.3.7; the nonce is checked by the provider. */
  private static JwtDecoder decoder(Issuer issuer, ClientRegistration registration, Clock clock) {
    var times = new JwtTimestampValidator();
    times.setClock(clock);
    var claims = new OidcIdTokenValidator(registration);
    claims.setClock(clock);
    var decoder = new NimbusJwtDecoder(issuer.signatures());
    decoder.setJwtValidator(new DelegatingOAuth2TokenValidator<>(times, claims));
    decoder.setClaimSetConverter(OidcIdTokenDecoderFactory.createDefaultClaimTypeConverter());
    return decoder;
  }

  /** Returns whether something failed because the issuer does not answer. */
  static boolean isUnreachable(Throwable failure) {
    for (Throwable cause = failure; cause != null; cause = cause.getCause()) {
      if (cause instanceof IssuerUnreachable || cause instanceof ResourceAccessException) {
        return true;
      }
    }
    return false;
  }
}
