package nodley.service.delivery;

import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import nodley.service.limits.OutletSettings;
import nodley.service.outside.OutsideCalls;
import nodley.service.problem.Json;
import nodley.store.delivery.Delivery;
import tools.jackson.databind.util.RawValue;

/**
 * An outlet that is called by HTTP: each delivery is a CloudEvent (CloudEvents 1.0.2, JSON format)
 * in structured mode, signed by {@link nodley.service.outside.WebhookSignature}.
 */
final class WebOutlet implements Outlet {

  private static final String TYPE = "application/cloudevents+json; charset=utf-8";
  private static final int GONE = 410;

  private final OutletSettings settings;
  private final Duration time;
  private final OutsideCalls calls;
  private final Clock clock;

  WebOutlet(OutletSettings settings, Duration time, OutsideCalls calls, Clock clock) {
    this.settings = settings;
    this.time = time;
    this.calls = calls;
    this.clock = clock;
  }

  @Override
  public String where() {
    return settings.url();
  }

  @Override
  public Told tell(Delivery delivery, String body) {
    byte[] event = event(delivery, body);
    try {
      return told(
          calls.post(new OutsideCalls.Call(settings.address(), delivery.id(), TYPE, event, time)));
    } catch (IOException e) {
      return new Later(OutsideCalls.said(e), Optional.empty());
    }
  }

  private static byte[] event(Delivery delivery, String body) {
    Map<String, Object> event = new LinkedHashMap<>();
    event.put("specversion", "1.0");
    event.put("id", delivery.id());
    event.put("source", "/api/forms/" + delivery.form());
    event.put("type", "nodley." + delivery.change());
    event.put("subject", delivery.record());
    event.put("time", delivery.madeAt().toString());
    event.put("datacontenttype", "application/json");
    event.put("data", new RawValue(body));
    return Json.bytes(event);
  }

  private Told told(OutsideCalls.Answer answer) {
    int status = answer.status();
    if (status / 100 == 2) {
      return new Taken("answered " + status);
    }
    if (status == GONE) {
      return new Over("answered 410 Gone");
    }
    String said =
        status / 100 == 3
            ? "answered " + status + ", a redirect, which is not followed"
            : "answered " + status;
    return new Later(said, answer.retryAfter().flatMap(this::wait));
  }

  /** Retry-After: RFC 9110, section 10.2.3. */
  private Optional<Duration> wait(String retryAfter) {
    String text = retryAfter.strip();
    if (text.matches("[0-9]{1,9}")) {
      return Optional.of(Duration.ofSeconds(Long.parseLong(text)));
    }
    try {
      Instant at = ZonedDateTime.parse(text, DateTimeFormatter.RFC_1123_DATE_TIME).toInstant();
      return Optional.of(Duration.between(clock.instant(), at)).filter(Duration::isPositive);
    } catch (DateTimeParseException e) {
      return Optional.empty();
    }
  }
}
