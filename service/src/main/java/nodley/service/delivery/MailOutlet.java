package nodley.service.delivery;

import com.samskivert.mustache.Escapers;
import jakarta.mail.AuthenticationFailedException;
import jakarta.mail.MessagingException;
import jakarta.mail.SendFailedException;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.nio.charset.StandardCharsets;
import java.util.Date;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import nodley.core.value.Addresses;
import nodley.service.limits.MailTemplateSettings;
import nodley.store.delivery.Delivery;
import org.eclipse.angus.mail.smtp.SMTPAddressFailedException;
import org.eclipse.angus.mail.smtp.SMTPSendFailedException;
import org.springframework.mail.MailAuthenticationException;
import org.springframework.mail.MailException;
import org.springframework.mail.MailSendException;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * An outlet that is a mail to somebody whom the record names. A delivery is the same mail however
 * often it is sent, by its Message-ID.
 */
final class MailOutlet implements Outlet {

  private static final JsonMapper JSON = JsonMapper.shared();

  /** Replies of SMTP from here on are final: RFC 5321, section 4.2.1. */
  private static final int FINAL = 500;

  private final MailTemplateSettings settings;
  private final Map<String, String> texts;
  private final Map<String, String> htmls;
  private final String from;
  private final JavaMailSenderImpl server;

  MailOutlet(MailTemplateSettings settings, String from, JavaMailSenderImpl server) {
    this.settings = settings;
    this.texts = settings.texts();
    this.htmls = settings.htmls();
    this.from = from;
    this.server = server;
  }

  @Override
  public String where() {
    return "mail to " + settings.to() + " by " + server.getHost();
  }

  @Override
  public Told tell(Delivery delivery, String body) {
    JsonNode data = JSON.readTree(body);
    // A sample goes to nobody else.
    String to = SampleDelivery.is(delivery) ? from : line(settings.to(), data);
    if (!Addresses.isEmail(to)) {
      return new Refused("there is no one address to send it to");
    }
    try {
      server.send(message(delivery, data, to));
      return new Taken("mailed");
    } catch (MailException e) {
      return failed(e);
    } catch (MessagingException e) {
      return new Refused("the mail cannot be written: " + e.getMessage());
    }
  }

  private MimeMessage message(Delivery delivery, JsonNode data, String to)
      throws MessagingException {
    MimeMessage mail = new IdentifiedMessage(server, delivery.id(), from);
    MimeMessageHelper helper =
        new MimeMessageHelper(mail, !htmls.isEmpty(), StandardCharsets.UTF_8.name());
    helper.setFrom(from);
    helper.setTo(new InternetAddress(to, true));
    String replyTo = line(settings.replyTo(), data);
    if (Addresses.isEmail(replyTo)) {
      helper.setReplyTo(new InternetAddress(replyTo, true));
    }
    helper.setSubject(line(settings.subject(), data));
    helper.setSentDate(Date.from(delivery.madeAt()));
    // Nobody's holiday notice answers it: RFC 3834, section 5.
    mail.setHeader("Auto-Submitted", "auto-generated");
    String language = data.path("language").asString("");
    String text = new MailTemplate(in(language, texts)).fill(data, UnaryOperator.identity());
    if (htmls.isEmpty()) {
      helper.setText(text);
    } else {
      helper.setText(text, new MailTemplate(in(language, htmls)).fill(data, Escapers.HTML::escape));
    }
    mail.setHeader("Content-Language", language.isEmpty() ? "en" : language);
    return mail;
  }

  /** A header is one line, whatever a value has. */
  private static String line(String template, JsonNode data) {
    return new MailTemplate(template)
        .fill(data, it -> it.replaceAll("[\\p{Cc}\\p{Zl}\\p{Zp}]+", " "))
        .strip();
  }

  private static String in(String language, Map<String, String> all) {
    return all.getOrDefault(language, all.get(""));
  }

  /** What the server says for good is final; all else may be otherwise later. */
  private static Told failed(MailException e) {
    if (e instanceof MailAuthenticationException) {
      return new Later("the mail server does not take the user and password", Optional.empty());
    }
    Throwable cause = e instanceof MailSendException send ? first(send) : e;
    for (Throwable each = cause; each != null; each = next(each)) {
      switch (each) {
        case SMTPAddressFailedException address -> {
          return said(address.getReturnCode(), address.getMessage());
        }
        case SMTPSendFailedException send -> {
          return said(send.getReturnCode(), send.getMessage());
        }
        case AuthenticationFailedException _ -> {
          return new Later("the mail server does not take the user and password", Optional.empty());
        }
        default -> {
          // The reason stands further in.
        }
      }
    }
    return new Later("the mail server: " + String.valueOf(cause.getMessage()), Optional.empty());
  }

  private static Throwable first(MailSendException send) {
    return send.getMessageExceptions().length == 0
        ? Optional.ofNullable(send.getCause()).orElse(send)
        : send.getMessageExceptions()[0];
  }

  private static Throwable next(Throwable failure) {
    return failure instanceof SendFailedException send && send.getNextException() != null
        ? send.getNextException()
        : failure.getCause();
  }

  private static Told said(int code, String message) {
    String answer = "the mail server says: " + String.valueOf(message).strip();
    return code >= FINAL ? new Refused(answer) : new Later(answer, Optional.empty());
  }

  /** A message whose id is that of its delivery, where another would be made when it is sent. */
  private static final class IdentifiedMessage extends MimeMessage {
    private final String id;

    IdentifiedMessage(JavaMailSenderImpl server, String delivery, String from) {
      super(server.getSession());
      this.id = "<" + delivery + "@" + from.substring(from.indexOf('@') + 1) + ">";
    }

    @Override
    protected void updateMessageID() throws MessagingException {
      setHeader("Message-ID", id);
    }
  }
}
