package nodley.service.limits;

import java.time.Duration;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.boot.context.properties.bind.Name;

/**
 * A database that is there already, in which forms look things up: {@code nodley.sources.NAME.*}.
 *
 * @param url its JDBC address
 * @param user who reads; empty if nobody needs to sign in
 * @param password of that user
 * @param time how long one look-up may take
 * @param unanswered what becomes of a submission if there is no answer
 */
public record SourceSettings(
    @DefaultValue("") String url,
    @DefaultValue("") String user,
    @DefaultValue("") String password,
    @Name("wait") @DefaultValue("2s") Duration time,
    @DefaultValue("refuse") Unanswered unanswered) {

  private static final Duration SHORTEST = Duration.ofMillis(50);
  private static final Duration LONGEST = Duration.ofSeconds(10);

  /** Checks what is set. */
  void check(String name) {
    String at = "nodley.sources." + name;
    if (!url.matches("jdbc:(postgresql|mariadb|sqlite):.+")) {
      throw new IllegalArgumentException(
          at
              + ".url"
              + (url.isEmpty() ? " is missing" : " is of no database that Nodley knows")
              + "; it begins with jdbc:postgresql:, jdbc:mariadb: or jdbc:sqlite:.");
    }
    if (time.compareTo(SHORTEST) < 0 || time.compareTo(LONGEST) > 0) {
      throw new IllegalArgumentException(
          at + ".wait must be from 50ms to 10s: a person waits for it.");
    }
  }
}
