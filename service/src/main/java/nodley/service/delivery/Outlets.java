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
import nodley.store.Store;
import org.springframework.stereotype.Component;

/**
 * The outlets that the settings name, and the one for mails by which addresses are confirmed, where
 * the settings have a mail server. They are read once, at start, and do not change. Thread-safe.
 */
@Component
public final class Outlets {

  private final Map<String, Outlet> all = new TreeMap<>();

  Outlets(OutwardSettings settings, OutsideCalls calls, Store store, Clock clock) {
    Duration time = settings.deliveries().time();
    Mailer mailer = new Mailer(MailServer.of(settings.mail(), time), settings.mail().from());
    settings
        .outlets()
        .forEach(
            (name, outlet) ->
                all.put(
                    name,
                    outlet.isMail()
                        ? new MailOutlet(outlet.mail(), mailer)
                        : new WebOutlet(outlet, time, calls, clock)));
    if (settings.mail().sendsLinks()) {
      all.put(
          OutwardSettings.CONFIRM,
          new ConfirmationMails(settings.mail(), mailer, store.forms(), store.tokens(), clock));
    }
  }

  /** Returns the outlet of a name. */
  public Optional<Outlet> find(String name) {
    return Optional.ofNullable(all.get(name));
  }

  /** Returns the names of those that a form may have told. */
  public Set<String> forForms() {
    Set<String> names = names();
    names.remove(OutwardSettings.CONFIRM);
    return names;
  }

  /** True if links can be mailed by which addresses are confirmed. */
  public boolean sendConfirmations() {
    return all.containsKey(OutwardSettings.CONFIRM);
  }

  /** Returns the names of all. */
  public Set<String> names() {
    return new TreeSet<>(all.keySet());
  }
}
