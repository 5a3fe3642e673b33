package nodley.service.live;

import java.util.List;
import nodley.service.limits.Limits;
import nodley.store.attempt.Attempt;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;

/**
 * Defines the feeds as beans: of attempts, and of changes of records. They end when the service
 * begins to stop, for an open reader would hold that up.
 */
@Configuration(proxyBeanMethods = false)
class Feeds {

  private final Feed<Attempt> attempts;
  private final Feed<Change> changes;

  Feeds(Limits limits) {
    attempts = new Feed<>(limits.watch());
    changes = new Feed<>(limits.watch());
  }

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
