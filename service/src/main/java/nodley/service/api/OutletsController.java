package nodley.service.api;

import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;
import nodley.service.access.Needs;
import nodley.service.access.Right;
import nodley.service.caller.Caller;
import nodley.service.delivery.Outlet;
import nodley.service.delivery.Outlets;
import nodley.service.delivery.SampleDelivery;
import nodley.service.http.Bodies;
import nodley.service.http.MemberReader;
import nodley.service.http.Query;
import nodley.service.http.Reply;
import nodley.service.operator.Logged;
import nodley.service.operator.LoggedCalls;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.delivery.OutletStates;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * {@code /api/outlets}: the places outside that the settings name, and how they stand. Needs the
 * role operator.
 */
@RestController
@RequestMapping("/api/outlets")
class OutletsController {

  private final OutletStates outletStates;
  private final Outlets outlets;
  private final Bodies bodies;

  OutletsController(Store store, Outlets outlets, Bodies bodies) {
    this.outletStates = store.deliveries().outlets();
    this.outlets = outlets;
    this.bodies = bodies;
  }

  record AllOutlets(List<OutletReply> outlets) {}

  /**
   * How an outlet stands.
   *
   * @param where its address
   * @param on false if nothing is sent to it
   * @param why why it is off; left out if it is on
   * @param waiting how many deliveries wait for it
   * @param oldest when the first of those was made that wait; left out if none does
   * @param failed how many were given up, of those that are kept
   */
  record OutletReply(
      String name,
      String where,
      boolean on,
      Optional<String> why,
      long waiting,
      Optional<String> oldest,
      long failed) {}

  /** What an outlet said to a sample. */
  record Tested(boolean delivered, String answer) {}

  private OutletReply reply(String name, Outlet outlet) {
    OutletStates.Standing standing = outletStates.standing(name);
    return new OutletReply(
        name,
        outlet.where(),
        standing.offSince().isEmpty(),
        Optional.of(standing.why()).filter(it -> !it.isEmpty()),
        standing.waiting(),
        standing.oldest().map(Object::toString),
        standing.failed());
  }

  @Needs(Right.OPERATOR)
  @GetMapping
  ResponseEntity<byte[]> list(HttpServletRequest request) {
    Query.of(request);
    return Reply.ok(
        new AllOutlets(
            outlets.names().stream()
                .map(it -> reply(it, outlets.find(it).orElseThrow()))
                .toList()));
  }

  /** Switches an outlet on or off: {@code {"on": true}}. */
  @Logged("switch-outlet")
  @Needs(Right.OPERATOR)
  @PutMapping("/{name}")
  ResponseEntity<byte[]> change(@PathVariable String name, HttpServletRequest request)
      throws IOException {
    Query.of(request);
    Outlet outlet = find(name);
    MemberReader body =
        new MemberReader(
            bodies.submission(request), "An outlet", "Nothing was changed.", List.of("on"));
    String on = body.text("on");
    if (!on.equals("true") && !on.equals("false")) {
      body.error("on", "bad-input", "\"on\" is true or false.");
    }
    body.check();
    LoggedCalls.to(request, "outlets/" + name);
    if (on.equals("true")) {
      outletStates.switchOn(name);
    } else {
      outletStates.switchOff(name, "switched off by " + Caller.current().name());
    }
    return Reply.ok(reply(name, outlet));
  }

  /** Sends an outlet a sample, marked as one, and tells what it said. */
  @Logged("test-outlet")
  @Needs(Right.OPERATOR)
  @PostMapping("/{name}/test")
  ResponseEntity<byte[]> test(@PathVariable String name, HttpServletRequest request) {
    Query.of(request);
    Outlet outlet = find(name);
    LoggedCalls.to(request, "outlets/" + name);
    Outlet.Told told = SampleDelivery.tell(outlet, name);
    return Reply.ok(new Tested(told instanceof Outlet.Taken, told.answer()));
  }

  private Outlet find(String name) {
    return outlets
        .find(name)
        .orElseThrow(
            () ->
                Problem.of(
                    404,
                    "no-such-outlet",
                    "There is no such outlet",
                    "The settings have no outlet "
                        + Wellformed.of(name)
                        + "."
                        + Near.to(name, outlets.names())
                            .map(it -> " Did you mean " + it + "?")
                            .orElse("")));
  }
}
