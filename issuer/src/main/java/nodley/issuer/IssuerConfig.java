package nodley.issuer;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.gen.RSAKeyGenerator;
import com.nimbusds.jose.jwk.source.ImmutableJWKSet;
import com.nimbusds.jose.jwk.source.JWKSource;
import com.nimbusds.jose.proc.SecurityContext;
import java.util.List;
import java.util.UUID;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.authentication.AuthenticationProvider;
import org.springframework.security.authentication.BadCredentialsException;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.config.Customizer;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.annotation.web.configuration.OAuth2AuthorizationServerConfiguration;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.FactorGrantedAuthority;
import org.springframework.security.oauth2.core.AuthorizationGrantType;
import org.springframework.security.oauth2.core.ClientAuthenticationMethod;
import org.springframework.security.oauth2.jwt.JwtDecoder;
import org.springframework.security.oauth2.server.authorization.client.InMemoryRegisteredClientRepository;
import org.springframework.security.oauth2.server.authorization.client.RegisteredClient;
import org.springframework.security.oauth2.server.authorization.client.RegisteredClientRepository;
import org.springframework.security.oauth2.server.authorization.settings.AuthorizationServerSettings;
import org.springframework.security.oauth2.server.authorization.settings.ClientSettings;
import org.springframework.security.oauth2.server.authorization.token.JwtEncodingContext;
import org.springframework.security.oauth2.server.authorization.token.OAuth2TokenCustomizer;
import org.springframework.security.web.SecurityFilterChain;

/** What the issuer is: one client, keys made at the start, and people who need no password. */
@Configuration(proxyBeanMethods = false)
class IssuerConfig {

  private static final int KEY_BITS = 2048;

  @Bean
  SecurityFilterChain chain(HttpSecurity http) throws Exception {
    return http.oauth2AuthorizationServer(server -> server.oidc(Customizer.withDefaults()))
        .authorizeHttpRequests(
            requests ->
                requests
                    .requestMatchers("/sign-in", "/issuer.css")
                    .permitAll()
                    .anyRequest()
                    .authenticated())
        .authenticationProvider(new WithoutPassword())
        .formLogin(form -> form.loginPage("/sign-in"))
        .build();
  }

  /** The service: a public client would do, but most issuers give a secret. */
  @Bean
  RegisteredClientRepository clients(@Value("${issuer.service}") String service) {
    return new InMemoryRegisteredClientRepository(
        RegisteredClient.withId("nodley")
            .clientId("nodley")
            .clientSecret("{noop}a-secret-for-the-demo")
            .clientAuthenticationMethod(ClientAuthenticationMethod.CLIENT_SECRET_BASIC)
            .authorizationGrantType(AuthorizationGrantType.AUTHORIZATION_CODE)
            .redirectUri(service + "/sign-in/from/harbour")
            .postLogoutRedirectUri(service + "/sign-in")
            .scope("openid")
            .scope("profile")
            .scope("email")
            .clientSettings(
                ClientSettings.builder()
                    .requireProofKey(true)
                    .requireAuthorizationConsent(false)
                    .build())
            .build());
  }

  @Bean
  AuthorizationServerSettings settings(@Value("${issuer.address}") String address) {
    return AuthorizationServerSettings.builder().issuer(address).build();
  }

  @Bean
  JWKSource<SecurityContext> keys() throws JOSEException {
    return new ImmutableJWKSet<>(
        new JWKSet(new RSAKeyGenerator(KEY_BITS).keyID(UUID.randomUUID().toString()).generate()));
  }

  /** Reads its own tokens, when it is asked about somebody. */
  @Bean
  JwtDecoder decoder(JWKSource<SecurityContext> keys) {
    return OAuth2AuthorizationServerConfiguration.jwtDecoder(keys);
  }

  @Bean
  OAuth2TokenCustomizer<JwtEncodingContext> claims() {
    return context -> {
      Issuer.Person person = person(context.getPrincipal().getName());
      context
          .getClaims()
          .claim("name", person.name())
          .claim("email", person.email())
          .claim("email_verified", true)
          .claim("groups", person.groups());
    };
  }

  private static Issuer.Person person(String id) {
    return Issuer.PEOPLE.stream()
        .filter(it -> it.id().equals(id))
        .findFirst()
        .orElseThrow(() -> new BadCredentialsException("There is nobody of this name."));
  }

  /** Whoever says who they are is believed. */
  private static final class WithoutPassword implements AuthenticationProvider {

    @Override
    public Authentication authenticate(Authentication asked) {
      return UsernamePasswordAuthenticationToken.authenticated(
          person(asked.getName()).id(),
          null,
          // Tokens tell when somebody signed in.
          List.of(FactorGrantedAuthority.fromAuthority(FactorGrantedAuthority.PASSWORD_AUTHORITY)));
    }

    @Override
    public boolean supports(Class<?> authentication) {
      return UsernamePasswordAuthenticationToken.class.isAssignableFrom(authentication);
    }
  }
}
