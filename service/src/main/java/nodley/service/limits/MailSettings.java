package nodley.service.limits;

import nodley.core.value.Addresses;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * The server that mails go by: {@code nodley.mail.*}.
 *
 * @param host its name; empty if there is none, and no outlet is a mail
 * @param port of SMTP submission (RFC 6409)
 * @param user who signs in there; empty if nobody needs to
 * @param password of that user
 * @param from whom mails are from: one address
 * @param security how the connection is kept from others
 * @param links where links in mails lead: the address of this service as people reach it
 */
public record MailSettings(
    @DefaultValue("") String host,
    @DefaultValue("587") int port,
    @DefaultValue("") String user,
    @DefaultValue("") String password,
    @DefaultValue("") String from,
    @DefaultValue("starttls") Security security,
    @DefaultValue("") String links) {

  /** How the connection to a mail server is kept from others. */
  public enum Security {
    /** It begins in clear, and goes on by TLS (RFC 3207), or not at all. */
    STARTTLS,

    /** It is TLS from the beginning (RFC 8314). */
    TLS,

    /** It is not: for a server on the same machine. */
    NONE
  }

  /** True if mails can be sent whose links lead back here. */
  public boolean sendsLinks() {
    return !host.isEmpty() && !links.isEmpty();
  }

  public MailSettings {
    if (!host.isEmpty() && !Addresses.isEmail(from)) {
      throw new IllegalArgumentException(
          "nodley.mail.from is \""
              + from
              + "\"; it must be an address, such as harbour@quay.example.");
    }
    if (!links.isEmpty() && !links.matches("https?://[A-Za-z0-9.:\\[\\]-]+")) {
      throw new IllegalArgumentException(
          "nodley.mail.links is \""
              + links
              + "\"; it must be an address without a path, such as https://forms.quay.example.");
    }
    if (port < 1 || port > 65_535) {
      throw new IllegalArgumentException("nodley.mail.port must be from 1 to 65535.");
    }
  }
}
