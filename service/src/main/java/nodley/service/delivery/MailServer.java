package nodley.service.delivery;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Properties;
import nodley.service.limits.MailSettings;
import org.springframework.mail.javamail.JavaMailSenderImpl;

/** Makes the client of the mail server that the settings name. Stateless. */
final class MailServer {

  private MailServer() {}

  /**
   * Returns a client; it connects for each mail.
   *
   * @param time how long connecting, reading and writing may take, each
   */
  static JavaMailSenderImpl of(MailSettings settings, Duration time) {
    var server = new JavaMailSenderImpl();
    server.setHost(settings.host());
    server.setPort(settings.port());
    server.setDefaultEncoding(StandardCharsets.UTF_8.name());
    Properties mail = server.getJavaMailProperties();
    if (!settings.user().isEmpty()) {
      server.setUsername(settings.user());
      server.setPassword(settings.password());
      mail.put("mail.smtp.auth", "true");
    }
    boolean starts = settings.security() == MailSettings.Security.STARTTLS;
    mail.put("mail.smtp.starttls.enable", String.valueOf(starts));
    mail.put("mail.smtp.starttls.required", String.valueOf(starts));
    mail.put(
        "mail.smtp.ssl.enable", String.valueOf(settings.security() == MailSettings.Security.TLS));
    mail.put("mail.smtp.ssl.checkserveridentity", "true");
    for (String what : new String[] {"connectiontimeout", "timeout", "writetimeout"}) {
      mail.put("mail.smtp." + what, Long.toString(time.toMillis()));
    }
    return server;
  }
}
