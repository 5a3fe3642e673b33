package nodley.service.caller;

import nodley.service.problem.Problem;
import nodley.service.problem.ProblemWriter;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.config.Customizer;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.annotation.web.configurers.AbstractHttpConfigurer;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.firewall.RequestRejectedHandler;
import org.springframework.security.web.header.HeaderWriterFilter;

/**
 * Configures Spring Security: authentication and headers. Authorisation depends on the form, and is
 * declared beside each mapping: see {@code service.access}.
 */
@Configuration(proxyBeanMethods = false)
class SecurityConfig {

  @Bean
  SecurityFilterChain chain(
      HttpSecurity http,
      Authenticator authenticator,
      CrossOrigin crossOrigin,
      SafeHeaders safeHeaders,
      ProblemWriter problems)
      throws Exception {
    return http
        // Changes are guarded by Origin and Sec-Fetch-Site (see Origins), not by tokens.
        .csrf(AbstractHttpConfigurer::disable)
        .formLogin(AbstractHttpConfigurer::disable)
        .httpBasic(AbstractHttpConfigurer::disable)
        .logout(AbstractHttpConfigurer::disable)
        .requestCache(AbstractHttpConfigurer::disable)
        .anonymous(AbstractHttpConfigurer::disable)
        // Each would be asked for every request, and has nothing to do here.
        .sessionManagement(AbstractHttpConfigurer::disable)
        .securityContext(AbstractHttpConfigurer::disable)
        .servletApi(AbstractHttpConfigurer::disable)
        .exceptionHandling(AbstractHttpConfigurer::disable)
        .headers(
            headers ->
                headers
                    .defaultsDisabled()
                    .cacheControl(Customizer.withDefaults())
                    .addHeaderWriter(safeHeaders::write))
        .addFilterAfter(
            new CallerFilter(authenticator, crossOrigin, problems), HeaderWriterFilter.class)
        .build();
  }

  /** An address that the firewall does not trust is told so in our words. */
  @Bean
  RequestRejectedHandler rejected(ProblemWriter writer) {
    return (request, response, _) ->
        writer.write(
            Problem.of(
                400,
                "bad-address",
                "The address cannot be read",
                "It has characters or sequences in it that an address may not have."),
            request,
            response);
  }
}
