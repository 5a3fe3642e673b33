package nodley.service.delivery;

import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import nodley.service.limits.OutwardSettings;
import nodley.service.outside.OutsideCalls;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** The outlets that the settings name. Thread-safe. */
@Component
public final class Outlets {

  private final Map<String, Outlet> all = new TreeMap<>();

  Outlets(OutwardSettings settings, OutsideCalls calls, Clock clock) {
    Duration time = settings.deliveries().time();
    JavaMailSenderImpl server = MailServer.of(settings.mail(), time);
    settings
        .outlets()
        .forEach(
            (name, outlet) ->
                all.put(
                    name,
                    outlet.isMail()
                        ? new MailOutlet(outlet.mail(), settings.mail().from(), server)
                        : new WebOutlet(outlet, time, calls, clock)));
  }

  /** Returns the outlet of a name. */
  public Optional<Outlet> find(String name) {
    return Optional.ofNullable(all.get(name));
  }

  /** Returns the names of all. */
  public Set<String> names() {
    return new TreeSet<>(all.keySet());
  }
}
