package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import nodley.store.Store;
import nodley.store.access.SignedTokens;
import org.springframework.http.HttpHeaders;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.stereotype.Component;

/**
 * Tells the browsers of strangers from each other, by a signed cookie that is set with the first
 * file or draft that one sends. Thread-safe.
 */
@Component
public final class Browsers {

  private static final String PURPOSE = "browser";

  private final SignedTokens tokens;

  Browsers(Store store) {
    this.tokens = store.tokens();
  }

  /** Returns the name of the browser that a request comes from; empty if it has none. */
  String of(HttpServletRequest request) {
    // Most requests of strangers have no cookie.
    return request.getHeader(HttpHeaders.COOKIE) == null
        ? ""
        : SafeCookie.BROWSER.of(request).flatMap(it -> tokens.open(PURPOSE, it)).orElse("");
  }

  /** Returns whose the files and drafts of this browser's stranger are, if it has a name. */
  public Optional<String> owner(HttpServletRequest request) {
    return Optional.of(of(request))
        .filter(it -> !it.isEmpty())
        .map(it -> new Caller.Stranger(it, List.of()).uploader());
  }

  /**
   * Returns who sends a file or a draft, as {@link Caller#uploader}. A stranger's browser that
   * sends it from a page of this service gets a name, which nobody else knows.
   */
  public String uploader(HttpServletRequest request, HttpServletResponse response) {
    Caller caller = Caller.current();
    String known = caller.uploader();
    if (!known.isEmpty() || !Origins.isOfOwnPage(request)) {
      return known;
    }
    String name = UUID.randomUUID().toString();
    response.addHeader(
        HttpHeaders.SET_COOKIE, SafeCookie.BROWSER.set(tokens.seal(PURPOSE, name), request));
    // What is left of this request is already from there.
    Caller named = new Caller.Stranger(name, caller.languages());
    SecurityContextHolder.getContext().setAuthentication(new CallerToken(named));
    return named.uploader();
  }
}
