package nodley.service.standin;

import jakarta.mail.MessagingException;
import jakarta.mail.Multipart;
import jakarta.mail.Part;
import jakarta.mail.Session;
import jakarta.mail.internet.MimeMessage;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.List;
import java.util.Properties;
import org.springframework.web.util.HtmlUtils;

/** Shows the mails that the demo would have sent, as a page. Stateless. */
final class OutboxPage {

  private static final Session SESSION = Session.getInstance(new Properties());

  private static final String BEGINNING =
      """
      <!doctype html>
      <html lang="en"><head><meta charset="utf-8"><title>Outbox of the demo</title>
      <meta name="viewport" content="width=device-width">
      <style>
      body { font: 1rem/1.5 system-ui, sans-serif; max-width: 46rem; margin: 2rem auto; padding: 0 1rem;
        color: #16242c; background: #f6f7f4; }
      article { background: #fff; border: 1px solid #c5d3d1; border-radius: .5rem; padding: 1rem 1.25rem;
        margin: 1.25rem 0; }
      h2 { font-size: 1.15rem; margin: 0; }
      dl { display: grid; grid-template-columns: max-content 1fr; gap: 0 .75rem; margin: .5rem 0 1rem; }
      dt { color: #4a5b63; } dd { margin: 0; overflow-wrap: anywhere; }
      pre { font: inherit; white-space: pre-wrap; overflow-wrap: anywhere; margin: 0; }
      iframe { width: 100%; height: 11rem; border: 1px solid #c5d3d1; margin-top: 1rem; background: #fff; }
      </style></head><body><main>
      <h1>Outbox of the demo</h1>
      """;

  private static final String NONE =
      "<p>No mail yet. Register a visiting vessel, and the one to the skipper stands here.</p>";

  private static final String END = "</main></body></html>";

  private OutboxPage() {}

  /** Returns the page of some mails, as they came. */
  static String of(List<byte[]> mails) {
    StringBuilder page = new StringBuilder(BEGINNING);
    page.append(
        mails.isEmpty()
            ? NONE
            : "<p>What the demo would have sent, the latest first. None of it goes anywhere.</p>");
    for (byte[] mail : mails) {
      try {
        append(new MimeMessage(SESSION, new ByteArrayInputStream(mail)), page);
      } catch (MessagingException | IOException e) {
        page.append("<article><p>A mail that cannot be read.</p></article>");
      }
    }
    return page.append(END).toString();
  }

  private static void append(MimeMessage mail, StringBuilder page)
      throws MessagingException, IOException {
    page.append("<article><h2>").append(escaped(mail.getSubject())).append("</h2><dl>");
    header("From", mail.getHeader("From", ", "), page);
    header("To", mail.getHeader("To", ", "), page);
    header("Date", mail.getHeader("Date", ", "), page);
    header("Language", mail.getHeader("Content-Language", ", "), page);
    page.append("</dl>");
    body(mail, page);
    page.append("</article>");
  }

  private static void header(String name, String value, StringBuilder page) {
    if (value != null) {
      page.append("<dt>").append(name).append("</dt><dd>").append(escaped(value)).append("</dd>");
    }
  }

  private static void body(Part part, StringBuilder page) throws MessagingException, IOException {
    Object content = part.getContent();
    if (content instanceof Multipart many) {
      for (int i = 0; i < many.getCount(); i++) {
        body(many.getBodyPart(i), page);
      }
    } else if (part.isMimeType("text/html")) {
      page.append("<iframe title=\"The same as HTML\" sandbox srcdoc=\"")
          .append(escaped(String.valueOf(content)))
          .append("\"></iframe>");
    } else if (part.isMimeType("text/plain")) {
      page.append("<pre>").append(linked(escaped(String.valueOf(content)))).append("</pre>");
    }
  }

  private static String linked(String escaped) {
    return escaped.replaceAll("(?m)^https?://\\S+$", "<a href=\"$0\">$0</a>");
  }

  private static String escaped(String text) {
    return text == null ? "" : HtmlUtils.htmlEscape(text, "UTF-8");
  }
}
