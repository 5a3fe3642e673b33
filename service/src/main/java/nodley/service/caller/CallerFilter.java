package nodley.service.caller;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import nodley.store.Keys;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.filter.OncePerRequestFilter;

/** Recognises the caller by a bearer key (RFC 6750) or by the session's cookie. */
final class CallerFilter extends OncePerRequestFilter {

  private static final String BEARER = "bearer ";

  private final Keys keys;

  CallerFilter(Keys keys) {
    this.keys = keys;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(new CallerToken(recognise(request)));
    SecurityContextHolder.setContext(context);
    try {
      chain.doFilter(request, response);
    } finally {
      SecurityContextHolder.clearContext();
    }
  }

  private Caller recognise(HttpServletRequest request) {
    List<Locale> languages = Wanted.languages(request);
    String authorization = request.getHeader("Authorization");
    if (authorization != null) {
      return bearerOf(authorization)
          .flatMap(keys::nameOf)
          .<Caller>map(name -> new Caller.Known(name, languages))
          .orElse(new Caller.Unrecognised(languages));
    }
    Caller person =
        SessionCookie.of(request)
            .flatMap(keys::sessionOf)
            .<Caller>map(name -> new Caller.Known(name, languages))
            .orElse(new Caller.Stranger(languages));
    // A change that another site had the browser send does not speak for the person.
    return person.isKnown() && Origins.isForeignChange(request)
        ? new Caller.Misled(languages)
        : person;
  }

  private static Optional<String> bearerOf(String authorization) {
    boolean bearer = authorization.regionMatches(true, 0, BEARER, 0, BEARER.length());
    return bearer
        ? Optional.of(authorization.substring(BEARER.length()).strip())
        : Optional.empty();
  }
}
