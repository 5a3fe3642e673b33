package nodley.service.delivery;

import com.samskivert.mustache.Escapers;
import jakarta.mail.AuthenticationFailedException;
import jakarta.mail.MessagingException;
import jakarta.mail.SendFailedException;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Date;
import java.util.Optional;
import nodley.core.value.Addresses;
import org.eclipse.angus.mail.smtp.SMTPAddressFailedException;
import org.eclipse.angus.mail.smtp.SMTPSendFailedException;
import org.springframework.mail.MailAuthenticationException;
import org.springframework.mail.MailException;
import org.springframework.mail.MailSendException;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;

/**
 * Sends mails by the server that the settings name. A delivery is the same mail however often it is
 * sent, by its Message-ID. Thread-safe; blocks.
 *
 * @param from whom mails are from: one address
 */
record Mailer(JavaMailSenderImpl server, String from) {

  /** Replies of SMTP from here on are final: RFC 5321, section 4.2.1. */
  private static final int FINAL = 500;

  /**
   * A mail.
   *
   * @param to one address
   * @param replyTo one address; of anything else nothing comes
   * @param subject one line, whatever it has
   * @param language of the texts, as a BCP 47 tag
   * @param html the same as the text; empty if the mail is text alone
   */
  record Mail(
      String to,
      String replyTo,
      String subject,
      String language,
      String text,
      Optional<String> html) {

    /**
     * A mail that leads somewhere by a link, as text and as HTML.
     *
     * @param to one address
     * @param asked what the link is for
     * @param link its whole address
     * @param button what the link is called in HTML
     * @param ends until when it is good
     */
    static Mail withLink(
        String to,
        String subject,
        String language,
        String asked,
        String link,
        String button,
        String ends) {
      return new Mail(
          to,
          "",
          subject,
          language,
          asked + "\n\n" + link + "\n\n" + ends + "\n",
          Optional.of(
              "<p>%s</p>\n<p><a href=\"%s\">%s</a></p>\n<p>%s</p>\n"
                  .formatted(
                      Escapers.HTML.escape(asked),
                      Escapers.HTML.escape(link),
                      Escapers.HTML.escape(button),
                      Escapers.HTML.escape(ends))));
    }
  }

  /**
   * Sends a mail.
   *
   * @param id the same mail has the same, however often it is sent
   * @param madeAt when it was written
   */
  Outlet.Told send(String id, Instant madeAt, Mail mail) {
    if (!Addresses.isEmail(mail.to())) {
      return new Outlet.Refused("there is no one address to send it to");
    }
    try {
      server.send(message(id, madeAt, mail));
      return new Outlet.Taken("mailed");
    } catch (MailException e) {
      return failed(e);
    } catch (MessagingException e) {
      return new Outlet.Refused("the mail cannot be written: " + e.getMessage());
    }
  }

  /** A header is one line, whatever a value has. */
  static String line(String text) {
    return text.replaceAll("[\\p{Cc}\\p{Zl}\\p{Zp}]+", " ").strip();
  }

  private MimeMessage message(String id, Instant madeAt, Mail mail) throws MessagingException {
    MimeMessage message = new IdentifiedMessage(server, id, from);
    MimeMessageHelper helper =
        new MimeMessageHelper(message, mail.html().isPresent(), StandardCharsets.UTF_8.name());
    helper.setFrom(from);
    helper.setTo(new InternetAddress(mail.to(), true));
    if (Addresses.isEmail(mail.replyTo())) {
      helper.setReplyTo(new InternetAddress(mail.replyTo(), true));
    }
    helper.setSubject(line(mail.subject()));
    helper.setSentDate(Date.from(madeAt));
    // Nobody's holiday notice answers it: RFC 3834, section 5.
    message.setHeader("Auto-Submitted", "auto-generated");
    if (mail.html().isPresent()) {
      helper.setText(mail.text(), mail.html().get());
    } else {
      helper.setText(mail.text());
    }
    message.setHeader("Content-Language", mail.language());
    return message;
  }

  /** What the server says for good is final; all else may be otherwise later. */
  private static Outlet.Told failed(MailException e) {
    if (e instanceof MailAuthenticationException) {
      return new Outlet.Later(
          "the mail server does not take the user and password", Optional.empty());
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
          return new Outlet.Later(
              "the mail server does not take the user and password", Optional.empty());
        }
        default -> {
          // The reason stands further in.
        }
      }
    }
    return new Outlet.Later(
        "the mail server: " + String.valueOf(cause.getMessage()), Optional.empty());
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

  private static Outlet.Told said(int code, String message) {
    String answer = "the mail server says: " + String.valueOf(message).strip();
    return code >= FINAL ? new Outlet.Refused(answer) : new Outlet.Later(answer, Optional.empty());
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
