package nodley.service.limits;

import java.util.Map;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.boot.context.properties.bind.Name;

/**
 * A place outside that is told of accepted submissions: {@code nodley.outlets.NAME.*}.
 *
 * @param url where it is called, by POST
 * @param secret what its calls are signed with
 * @param formerSecret a second one, with which they are signed, too, while the secret changes
 * @param headers what each call has besides
 * @param isPrivate true if it may be at an address of a private network, or of this machine
 * @param mail what it is instead of a place that is called
 */
public record OutletSettings(
    @DefaultValue("") String url,
    @DefaultValue("") String secret,
    @DefaultValue("") String formerSecret,
    @DefaultValue Map<String, String> headers,
    @Name("private") @DefaultValue("false") boolean isPrivate,
    @DefaultValue MailTemplateSettings mail) {

  public OutletSettings {
    headers = Map.copyOf(headers);
  }

  /**
   * Checks what is set for an outlet.
   *
   * @throws IllegalArgumentException in a sentence for whoever set it
   */
  void check(String name) {
    String at = "nodley.outlets." + name;
    if (!isMail()) {
      address().check(at);
      return;
    }
    if (!url.isEmpty()) {
      throw new IllegalArgumentException(at + " has url and mail; an outlet is one of them.");
    }
    mail.check(at + ".mail");
  }

  /** True if the outlet is a mail. */
  public boolean isMail() {
    return mail.isSet();
  }

  /** Returns where it is called, if it is not a mail. */
  public OutsideAddress address() {
    return new OutsideAddress(url, secret, formerSecret, headers, isPrivate);
  }
}
