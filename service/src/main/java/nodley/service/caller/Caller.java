package nodley.service.caller;

import java.util.List;
import java.util.Locale;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;

/** Who sends a request: a stranger, a person, or a program with a key. */
public sealed interface Caller {

  /** Nothing was shown. */
  record Stranger(List<Locale> languages) implements Caller {}

  /** A key was shown that is not known. */
  record UnknownKey(List<Locale> languages) implements Caller {}

  /** A person's session came along with a change that a page of another site sent. */
  record CrossSiteRequest(List<Locale> languages) implements Caller {}

  /**
   * A program that showed its key, or a person in a session opened with it.
   *
   * @param program true if the key itself was shown, as no page does
   */
  record Known(String name, boolean program, List<Locale> languages) implements Caller {}

  /** What the caller wants to read, the best first. */
  List<Locale> languages();

  /** The name of who sends; empty if nobody is known. */
  default String name() {
    return this instanceof Known(String name, var _, var _) ? name : "";
  }

  default boolean isKnown() {
    return this instanceof Known;
  }

  /** The caller of the request that this thread answers. */
  static Caller current() {
    Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
    return authentication instanceof CallerToken token ? token.caller() : new Stranger(List.of());
  }
}
