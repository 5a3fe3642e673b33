package nodley.service.delivery;

import java.time.Clock;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.submission.Sentences;
import nodley.core.text.Notation;
import nodley.core.value.Value;
import nodley.service.limits.MailSettings;
import nodley.store.access.SignedTokens;
import nodley.store.delivery.Delivery;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The outlet that mails links by which addresses are confirmed. A link is signed; the id of its
 * delivery stands in it.
 */
final class ConfirmationMails implements Outlet {

  private static final JsonMapper JSON = JsonMapper.shared();

  private final MailSettings settings;
  private final Mailer mailer;
  private final Forms forms;
  private final SignedTokens tokens;
  private final Clock clock;

  ConfirmationMails(
      MailSettings settings, Mailer mailer, Forms forms, SignedTokens tokens, Clock clock) {
    this.settings = settings;
    this.mailer = mailer;
    this.forms = forms;
    this.tokens = tokens;
    this.clock = clock;
  }

  /** A day as the language writes it. */
  static String day(Sentences words, ZonedDateTime moment) {
    return Notation.of(words.language()).shown(new Value.Date(moment.toLocalDate()));
  }

  @Override
  public String where() {
    return "mail to the address that is confirmed, by " + mailer.server().getHost();
  }

  @Override
  public Told tell(Delivery delivery, String body) {
    if (SampleDelivery.is(delivery)) {
      return mailer.send(
          delivery.id(),
          delivery.madeAt(),
          new Mailer.Mail(
              mailer.from(),
              "",
              "A sample",
              "en",
              "Links lead to " + settings.links(),
              Optional.empty()));
    }
    Optional<PublishedForm> published = forms.find(delivery.form());
    if (published.isEmpty()) {
      return new Refused("its form is gone");
    }
    JsonNode data = JSON.readTree(body);
    Locale language = Locale.forLanguageTag(data.path("language").asString("en"));
    Form form = published.get().in(List.of(language)).form();
    Sentences words = Sentences.of(form);
    String link =
        settings.links()
            + "/confirm-address?lang="
            + words.language().toLanguageTag()
            + "&link="
            + ConfirmationLink.of(tokens, delivery.id());
    ZonedDateTime until =
        Instant.parse(data.path("until").asString())
            .atZone(form.zone().orElse(clock.getZone()))
            .truncatedTo(ChronoUnit.MINUTES);
    Map<String, Value> given =
        Map.of(
            "form", new Value.Text(form.titles().list()),
            "day", new Value.Text(day(words, until)),
            "time", new Value.Time(until.toLocalTime()));
    return mailer.send(
        delivery.id(),
        delivery.madeAt(),
        Mailer.Mail.withLink(
            data.path("address").asString(""),
            words.word("mail.confirm.subject", given),
            words.language().toLanguageTag(),
            words.word("mail.confirm.asked", given),
            link,
            words.word("page.confirm-address.button", given),
            words.word("mail.confirm.ends", given)));
  }
}
