package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Optional;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.delivery.Deliveries;
import nodley.store.delivery.Delivery;
import nodley.store.form.Forms;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code /api/deliveries}: what outlets were told and are to be told, and what became of it. Needs
 * the role operator; what was told of a record is for those who may see all of the form's records.
 */
@RestController
@RequestMapping("/api/deliveries")
class DeliveriesController {

  private static final int PAGE = 50;
  private static final int MAX_PAGE = 1_000;

  private final Deliveries deliveries;
  private final Forms forms;

  DeliveriesController(Store store) {
    this.deliveries = store.deliveries();
    this.forms = store.forms();
  }

  /**
   * A page of deliveries, the latest first.
   *
   * @param before asks for the next page; left out on the last
   */
  record DeliveriesPage(List<DeliveryReply> deliveries, Optional<String> before) {}

  /**
   * A delivery.
   *
   * @param record left out where the form keeps none
   * @param version of the record, likewise
   * @param change {@code record.added}, {@code record.edited}, {@code record.removed} or {@code
   *     submission.accepted}
   * @param state {@code waiting}, {@code delivered} or {@code failed}
   * @param attempt the id of the attempt that caused it; left out if none did
   * @param nextAt while it waits
   * @param endedAt when it was delivered or given up
   * @param answer what the outlet said last
   */
  record DeliveryReply(
      String id,
      String outlet,
      String form,
      Optional<String> record,
      Optional<Long> version,
      String change,
      String state,
      int tries,
      Optional<String> attempt,
      String madeAt,
      Optional<String> nextAt,
      Optional<String> endedAt,
      Optional<String> answer) {

    static DeliveryReply of(Delivery delivery) {
      boolean isOfRecord = delivery.change().startsWith("record.");
      return new DeliveryReply(
          delivery.id(),
          delivery.outlet(),
          delivery.form(),
          isOfRecord ? Optional.of(delivery.record()) : Optional.empty(),
          isOfRecord ? Optional.of(delivery.version()) : Optional.empty(),
          delivery.change(),
          delivery.state().word(),
          delivery.tries(),
          Optional.of(delivery.attempt()).filter(it -> !it.isEmpty()),
          delivery.madeAt().toString(),
          delivery.state() == Delivery.State.WAITING
              ? Optional.of(delivery.nextAt().toString())
              : Optional.empty(),
          delivery.endedAt().map(Object::toString),
          Optional.of(delivery.answer()).filter(it -> !it.isEmpty()));
    }
  }

  /**
   * A delivery with what is told.
   *
   * @param data left out if nothing is left of it, or it is not for the caller
   */
  record Whole(@JsonUnwrapped DeliveryReply delivery, Optional<JsonNode> data) {}

  @Needs(Right.OPERATOR)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query query = Query.of(request, "state", "outlet", "form", "record", "limit", "before");
    int limit = query.number("limit", PAGE, MAX_PAGE);
    List<Delivery> found =
        deliveries.list(
            new Deliveries.Wanted(
                query.get("state").map(DeliveriesController::state),
                query.get("outlet"),
                query.get("form"),
                query.get("record"),
                query.place("before"),
                limit + 1));
    List<Delivery> page = found.subList(0, Math.min(limit, found.size()));
    return Reply.ok(
        new DeliveriesPage(
            page.stream().map(DeliveryReply::of).toList(),
            found.size() > limit
                ? Optional.of(Long.toString(page.getLast().number()))
                : Optional.empty()));
  }

  private static Delivery.State state(String word) {
    for (Delivery.State state : Delivery.State.values()) {
      if (state.word().equals(word)) {
        return state;
      }
    }
    throw Problem.badQuery(
        "\"state\" is waiting, delivered or failed, not \"" + Wellformed.of(word) + "\".");
  }

  @Needs(Right.OPERATOR)
  @GetMapping("/{id}")
  ResponseEntity<byte[]> one(@PathVariable String id, HttpServletRequest request) {
    Query.of(request);
    Delivery delivery = find(id);
    return Reply.ok(
        new Whole(
            DeliveryReply.of(delivery),
            maySee(delivery.form())
                ? deliveries.body(id).map(JsonMapper.shared()::readTree)
                : Optional.empty()));
  }

  private boolean maySee(String name) {
    Caller caller = Caller.current();
    return forms
        .find(name)
        .map(it -> Authorization.seen(it, caller).form())
        .filter(it -> Authorization.maySee(caller, it) && it.fields().areAllKnown())
        .isPresent();
  }

  /** Sends a delivery again, whatever it had come to. */
  @Logged("send-again")
  @Needs(Right.OPERATOR)
  @PostMapping("/{id}/again")
  ResponseEntity<byte[]> again(@PathVariable String id, HttpServletRequest request) {
    Query.of(request);
    Delivery delivery = find(id);
    LoggedCalls.to(request, "deliveries/" + id);
    if (!deliveries.again(id)) {
      throw Problem.of(
          409,
          "nothing-left",
          "Nothing is left to send",
          "The record of %s was removed or forgotten, and what was told of it with it."
              .formatted(delivery.form()));
    }
    return Reply.ok(DeliveryReply.of(find(id)));
  }

  private Delivery find(String id) {
    return deliveries
        .find(id)
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-delivery",
                    "There is no such delivery",
                    "There is no delivery "
                        + Wellformed.of(id)
                        + ". They are kept for 30 days after they ended."));
  }
}
