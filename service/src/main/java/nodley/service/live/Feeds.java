package nodley.service.live;

import java.util.List;
import nodley.store.Attempt;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;

/** The feeds there are. */
@Configuration(proxyBeanMethods = false)
class Feeds {

  /** Developers watch attempts. */
  private static final int MOST_OF_ATTEMPTS = 100;

  /** Every open page of an edit watches its record. */
  private static final int MOST_OF_CHANGES = 2_000;

  private final Feed<Attempt> attempts = new Feed<>(MOST_OF_ATTEMPTS);
  private final Feed<Change> changes = new Feed<>(MOST_OF_CHANGES);

  @Bean
  Feed<Attempt> attempts() {
    return attempts;
  }

  @Bean
  Feed<Change> changes() {
    return changes;
  }

  @EventListener(ContextClosedEvent.class)
  void end() {
    List.of(attempts, changes).forEach(Feed::end);
  }
}
