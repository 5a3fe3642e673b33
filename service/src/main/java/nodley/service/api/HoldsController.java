package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.UUID;
import nodley.core.form.Form;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.http.OpenPage;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.unique.Hold;
import nodley.store.unique.Holds;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/holds}: gives open pages names, reserves unique values for them while somebody fills
 * them in, and releases them when the page is left. Holds end by themselves after some minutes.
 */
@RestController
@RequestMapping("/api/holds")
class HoldsController {

  private final Store store;

  HoldsController(Store store) {
    this.store = store;
  }

  /**
   * An open page.
   *
   * @param page its name, signed
   * @param minutes how long it can hold values
   */
  record Opened(String form, String page, long minutes) {}

  record AllHolds(List<HoldReply> holds) {}

  /**
   * A value that is held.
   *
   * @param unique the fields that are unique, such as {@code vessel+arrives}
   * @param value a JSON array
   * @param address where the page is open
   * @param until RFC 3339, UTC
   */
  record HoldReply(String form, String unique, String value, String address, String until) {

    static HoldReply of(Hold hold) {
      return new HoldReply(
          hold.form(), hold.name(), hold.value(), hold.address(), hold.until().toString());
    }
  }

  /** A name for a page that is open, under which its checks can hold values. */
  @Needs(Right.USE)
  @PostMapping
  ResponseEntity<byte[]> open(Form form, HttpServletRequest request) {
    Query.of(request, "form");
    return Reply.json(
        Reply.status(201),
        new Opened(
            form.name(),
            OpenPage.named(store, form, UUID.randomUUID().toString()),
            Holds.LONGEST.toMinutes()));
  }

  /** Releases all that a page holds. */
  @Needs(Right.USE)
  @DeleteMapping
  ResponseEntity<byte[]> release(Form form, HttpServletRequest request) {
    Query query = Query.of(request, "form", "page");
    String sealed = query.get("page").orElseThrow(() -> Problem.badQuery("\"page\" is missing."));
    store.holds().release(OpenPage.id(sealed, store, form));
    return Reply.status(204).build();
  }

  /**
   * The same for a page that is being left: all that it can still send is a POST without an answer.
   */
  @Needs(Right.USE)
  @PostMapping("/release")
  ResponseEntity<byte[]> left(Form form, HttpServletRequest request) {
    return release(form, request);
  }

  @Needs(Right.OPERATOR)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(new AllHolds(store.holds().list().stream().map(HoldReply::of).toList()));
  }
}
