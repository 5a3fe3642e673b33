package nodley.service.delivery;

import com.samskivert.mustache.Escapers;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import nodley.service.limits.MailTemplateSettings;
import nodley.store.delivery.Delivery;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * An outlet that is a mail to somebody whom the record names, in the language of the submission
 * where the settings have a template for it. A sample goes to the sender's own address. Sending
 * blocks until the mail server has taken the mail, or the time is up. Thread-safe.
 */
final class MailOutlet implements Outlet {

  private static final JsonMapper JSON = JsonMapper.shared();

  private final MailTemplateSettings settings;
  private final Map<String, String> texts;
  private final Map<String, String> htmls;
  private final Mailer mailer;

  MailOutlet(MailTemplateSettings settings, Mailer mailer) {
    this.settings = settings;
    this.texts = settings.texts();
    this.htmls = settings.htmls();
    this.mailer = mailer;
  }

  @Override
  public String where() {
    return "mail to " + settings.to() + " by " + mailer.server().getHost();
  }

  @Override
  public Told tell(Delivery delivery, String body) {
    JsonNode data = JSON.readTree(body);
    String language = data.path("language").asString("");
    return mailer.send(
        delivery.id(),
        delivery.madeAt(),
        new Mailer.Mail(
            // A sample goes to nobody else.
            SampleDelivery.is(delivery) ? mailer.from() : line(settings.to(), data),
            line(settings.replyTo(), data),
            line(settings.subject(), data),
            language.isEmpty() ? "en" : language,
            new MailTemplate(in(language, texts)).fill(data, UnaryOperator.identity()),
            htmls.isEmpty()
                ? Optional.empty()
                : Optional.of(
                    new MailTemplate(in(language, htmls)).fill(data, Escapers.HTML::escape))));
  }

  private static String line(String template, JsonNode data) {
    return Mailer.line(new MailTemplate(template).fill(data, Mailer::line));
  }

  private static String in(String language, Map<String, String> all) {
    return all.getOrDefault(language, all.get(""));
  }
}
