package nodley.service.page;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Raw;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.caller.RequestedLanguages;
import nodley.service.delivery.ConfirmationLink;
import nodley.service.http.Bodies;
import nodley.service.http.Query;
import nodley.service.submission.Confirming;
import nodley.store.Store;
import nodley.store.access.SignedTokens;
import nodley.store.delivery.Confirmations;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * The page of a link by which an address is confirmed. Opening it changes nothing, for programs
 * that look through mails open links, too: pressing its button does. With and without script.
 */
@RestController
class ConfirmationPages {

  private static final String PATH = "/confirm-address";

  private final Store store;
  private final SignedTokens tokens;
  private final Confirming confirming;
  private final ServicePages pages;
  private final Bodies bodies;
  private final Clock clock;

  /** What is to be said of a link. */
  private enum State {
    GOOD(HttpStatus.OK, Optional.of("confirm-address.button")),
    CONFIRMED(HttpStatus.OK, Optional.empty()),
    ENDED(HttpStatus.GONE, Optional.of("confirm-address.again")),
    SENT(HttpStatus.OK, Optional.empty()),
    UNKNOWN(HttpStatus.GONE, Optional.empty());

    private final HttpStatus status;
    private final Optional<String> button;

    State(HttpStatus status, Optional<String> button) {
      this.status = status;
      this.button = button;
    }
  }

  ConfirmationPages(
      Store store, Confirming confirming, ServicePages pages, Bodies bodies, Clock clock) {
    this.store = store;
    this.tokens = store.tokens();
    this.confirming = confirming;
    this.pages = pages;
    this.bodies = bodies;
    this.clock = clock;
  }

  @Needs(Right.NOTHING)
  @GetMapping(PATH)
  ResponseEntity<byte[]> ask(HttpServletRequest request) {
    String text = Query.of(request, "link").get("link").orElse("");
    Optional<Confirmations.Link> link = link(text);
    return page(request, text, link, link.map(this::state).orElse(State.UNKNOWN));
  }

  @Needs(Right.SAME_ORIGIN)
  @PostMapping(PATH)
  ResponseEntity<byte[]> confirm(HttpServletRequest request) throws IOException {
    String text = bodies.submission(request).get("link").map(Raw::shown).orElse("");
    Optional<Confirmations.Link> link = link(text);
    State state = link.map(this::state).orElse(State.UNKNOWN);
    List<Locale> languages = Caller.current().languages();
    if (state == State.GOOD && confirming.confirm(link.get(), languages)) {
      return page(request, text, link, State.CONFIRMED);
    }
    if (state == State.ENDED && confirming.askAgain(link.get(), languages)) {
      return page(request, text, link, State.SENT);
    }
    // Somebody else was faster, or the record has just gone.
    Optional<Confirmations.Link> now = link(text);
    return page(request, text, now, now.map(this::state).orElse(State.UNKNOWN));
  }

  private Optional<Confirmations.Link> link(String text) {
    return ConfirmationLink.code(tokens, text).flatMap(store.records().addresses()::link);
  }

  private State state(Confirmations.Link link) {
    if (!link.confirmedAt().isEmpty()) {
      return State.CONFIRMED;
    }
    return link.isGoodAt(clock.instant()) ? State.GOOD : State.ENDED;
  }

  private ResponseEntity<byte[]> page(
      HttpServletRequest request, String text, Optional<Confirmations.Link> link, State state) {
    String form =
        link.map(Confirmations.Link::form)
            .flatMap(store.forms()::find)
            .map(it -> it.in(Caller.current().languages()).form().titles().list())
            .orElse("");
    Map<String, Object> view = new HashMap<>();
    view.put("link", text);
    view.put("language", RequestedLanguages.query(request));
    view.put(
        "said",
        pages.word(
            "confirm-address." + state.name().toLowerCase(Locale.ROOT), Map.of("form", form)));
    view.put("button", state.button.map(pages::word).orElse(""));
    view.put("role", state == State.UNKNOWN ? "alert" : "status");
    return pages.page(state.status, "confirm-address", "confirm-address", view);
  }
}
