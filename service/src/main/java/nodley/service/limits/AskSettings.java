package nodley.service.limits;

import java.time.Duration;
import java.util.Map;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.boot.context.properties.bind.Name;

/**
 * A service outside that is asked about submissions: {@code nodley.asks.NAME.*}.
 *
 * @param url where it is called, by POST
 * @param secret what its calls are signed with
 * @param formerSecret a second one, with which they are signed, too, while the secret changes
 * @param headers what each call has besides
 * @param isPrivate true if it may be at an address of a private network, or of this machine
 * @param time how long its answer is waited for
 * @param unanswered what becomes of a submission if there is none
 */
public record AskSettings(
    @DefaultValue("") String url,
    @DefaultValue("") String secret,
    @DefaultValue("") String formerSecret,
    @DefaultValue Map<String, String> headers,
    @Name("private") @DefaultValue("false") boolean isPrivate,
    @Name("wait") @DefaultValue("2s") Duration time,
    @DefaultValue("accept") Unanswered unanswered) {

  private static final Duration SHORTEST = Duration.ofMillis(50);
  private static final Duration LONGEST = Duration.ofSeconds(10);

  public AskSettings {
    headers = Map.copyOf(headers);
  }

  /**
   * Checks what is set.
   *
   * @throws IllegalArgumentException in a sentence for whoever set it
   */
  void check(String name) {
    String at = "nodley.asks." + name;
    address().check(at);
    if (time.compareTo(SHORTEST) < 0 || time.compareTo(LONGEST) > 0) {
      throw new IllegalArgumentException(
          at + ".wait must be from 50ms to 10s: a person waits for it.");
    }
  }

  /** Returns where it is called. */
  public OutsideAddress address() {
    return new OutsideAddress(url, secret, formerSecret, headers, isPrivate);
  }
}
