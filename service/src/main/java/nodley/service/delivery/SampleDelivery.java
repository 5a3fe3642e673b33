package nodley.service.delivery;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;
import nodley.store.delivery.Delivery;

/** A delivery that is none: it shows whether an outlet takes them. Stateless. */
public final class SampleDelivery {

  private static final String SAMPLE = "sample";

  private static final String BODY =
      "{\"form\":\"sample\",\"id\":\"sample\",\"sample\":true,\"values\":{\"text\":\"A sample\"}}";

  private SampleDelivery() {}

  /** True for a delivery that is none. */
  static boolean is(Delivery delivery) {
    return delivery.change().equals(SAMPLE);
  }

  /** Tells an outlet of it, once; nothing of it is kept. */
  public static Outlet.Told tell(Outlet outlet, String name) {
    Instant now = Instant.now();
    return outlet.tell(
        new Delivery(
            0,
            UUID.randomUUID().toString(),
            name,
            SAMPLE,
            SAMPLE,
            1,
            SAMPLE,
            "",
            Delivery.State.WAITING,
            0,
            now,
            now,
            now,
            Optional.empty(),
            ""),
        BODY);
  }
}
