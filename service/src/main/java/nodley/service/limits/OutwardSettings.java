package nodley.service.limits;

import java.time.Duration;
import java.util.Map;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * What the service calls by itself: {@code nodley.outlets.*}, {@code nodley.asks.*}, {@code
 * nodley.sources.*}, {@code nodley.deliveries.*} and {@code nodley.mail.*}.
 *
 * @param outlets places that are told of accepted submissions, by their names
 * @param asks services that are asked about submissions, by their names
 * @param sources databases in which forms look things up, by their names
 * @param deliveries how they are told
 * @param mail the server that mails go by
 */
public record OutwardSettings(
    @DefaultValue Map<String, OutletSettings> outlets,
    @DefaultValue Map<String, AskSettings> asks,
    @DefaultValue Map<String, SourceSettings> sources,
    @DefaultValue DeliverySettings deliveries,
    @DefaultValue MailSettings mail) {

  /** The name of the outlet that mails the links by which addresses are confirmed. */
  public static final String CONFIRM = "confirm";

  public OutwardSettings {
    outlets = Map.copyOf(outlets);
    asks = Map.copyOf(asks);
    sources = Map.copyOf(sources);
    sources.forEach(
        (name, source) -> {
          checkName("nodley.sources", name);
          source.check(name);
        });
    asks.forEach(
        (name, ask) -> {
          checkName("nodley.asks", name);
          ask.check(name);
        });
    outlets.forEach(
        (name, outlet) -> {
          checkName("nodley.outlets", name);
          if (name.equals(CONFIRM)) {
            throw new IllegalArgumentException(
                "nodley.outlets has \"confirm\", which stands for the mails by which addresses are"
                    + " confirmed; give the outlet another name.");
          }
          outlet.check(name);
          if (outlet.isMail() && mail.host().isEmpty()) {
            throw new IllegalArgumentException(
                "nodley.outlets."
                    + name
                    + " is a mail, and nodley.mail.host is missing: the server that mails go by.");
          }
        });
  }

  private static void checkName(String group, String name) {
    if (!name.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          group
              + " has \""
              + name
              + "\"; a name there is a small letter, then up to 39 small letters, digits or"
              + " hyphens.");
    }
  }

  /**
   * How outlets are told.
   *
   * @param time how long one call may take
   * @param firstWait how long after the first failure it is tried again; after each further one it
   *     is twice as long, up to an hour
   * @param giveUp how long after the first try it is given up
   */
  public record DeliverySettings(
      @DefaultValue("10s") Duration time,
      @DefaultValue("5s") Duration firstWait,
      @DefaultValue("24h") Duration giveUp) {

    public DeliverySettings {
      atLeast("time", time, 100);
      atLeast("first-wait", firstWait, 10);
      atLeast("give-up", giveUp, 10);
    }

    private static void atLeast(String name, Duration value, long millis) {
      if (value.toMillis() < millis) {
        throw new IllegalArgumentException(
            "nodley.deliveries." + name + " must be at least " + millis + "ms.");
      }
    }
  }
}
