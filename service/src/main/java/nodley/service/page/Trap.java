package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Clock;
import java.time.Duration;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.service.caller.Caller;
import nodley.store.Store;
import nodley.store.access.SignedTokens;
import org.springframework.stereotype.Component;

/**
 * Tells programs that fill in every form they find from people: a page that anyone may add with has
 * a field that people neither see nor reach, and says, signed, when it was opened. What is sent
 * with that field filled in, or sooner than anybody can type, is answered as if it were accepted.
 * Thread-safe.
 */
@Component
final class Trap {

  /** The name of the field; no browser knows it as anything to fill in. */
  static final String FIELD = "_remarks";

  /** The name of the hidden input with the time. */
  static final String OPENED = "_opened";

  private static final String PURPOSE = "opened";

  /** Nobody fills in a form so fast. */
  private static final Duration LEAST = Duration.ofMillis(300);

  private final SignedTokens tokens;
  private final Clock clock;

  Trap(Store store, Clock clock) {
    this.tokens = store.tokens();
    this.clock = clock;
  }

  /**
   * When a page is opened, signed; empty for a page without a trap. A page that is drawn again with
   * what was typed has been open before.
   */
  String opened(Form form, HttpServletRequest request) {
    if (!isSet(form)) {
      return "";
    }
    long since = request.getMethod().equals("POST") ? LEAST.toMillis() : 0;
    return tokens.seal(PURPOSE, form.name() + " " + (clock.millis() - since));
  }

  /** Known callers have signed in, which no such program does. */
  private static boolean isSet(Form form) {
    return form.pages().trap()
        && !form.isOne()
        && form.access().add().isAnyone()
        && !Caller.current().isKnown();
  }

  /** True if a page sent its hidden field filled in. */
  boolean isFilledIn(Form form, Input input) {
    return isSet(form) && input.get(FIELD).filter(it -> !it.shown().isBlank()).isPresent();
  }

  /**
   * True if a page was sent sooner than anybody can type. What says nothing of when it was opened
   * comes from no page of the service.
   */
  boolean isTooSoon(Form form, Input input) {
    return isSet(form) && input.get(OPENED).filter(it -> isTooSoon(form, it)).isPresent();
  }

  private boolean isTooSoon(Form form, Raw opened) {
    String begin = form.name() + " ";
    return tokens
        .open(PURPOSE, opened.shown())
        .filter(it -> it.startsWith(begin))
        .map(it -> clock.millis() - Long.parseLong(it.substring(begin.length())))
        .filter(open -> open >= LEAST.toMillis())
        .isEmpty();
  }
}
