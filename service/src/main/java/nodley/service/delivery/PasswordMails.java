package nodley.service.delivery;

import java.time.Clock;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import nodley.core.submission.Sentences;
import nodley.core.value.Value;
import nodley.service.limits.MailSettings;
import nodley.service.limits.OutwardSettings;
import nodley.store.access.Person;
import org.springframework.stereotype.Component;

/**
 * Mails the links by which people set a password. At once, and once: a link that waited to be sent
 * again would have to be kept. Thread-safe; blocks until the mail server has answered.
 */
@Component
public final class PasswordMails {

  private final MailSettings settings;
  private final Mailer mailer;
  private final Clock clock;

  /**
   * What became of a mail.
   *
   * @param to the address that it went to; empty if it went nowhere
   * @param failure why it did not; empty if it did
   */
  public record Outcome(Optional<String> to, Optional<String> failure) {

    private static final Outcome NONE = new Outcome(Optional.empty(), Optional.empty());
  }

  PasswordMails(OutwardSettings settings, Clock clock) {
    this.settings = settings.mail();
    this.mailer =
        new Mailer(
            MailServer.of(this.settings, settings.deliveries().time()), this.settings.from());
    this.clock = clock;
  }

  /** Returns where links in mails lead; empty if none are mailed. */
  public Optional<String> origin() {
    return settings.sendsLinks() ? Optional.of(settings.links()) : Optional.empty();
  }

  /**
   * Mails a link to a person, if mail is set up and they have an address.
   *
   * @param link its whole address
   * @param words in the language of the mail
   */
  public Outcome send(Person person, String link, Instant until, Sentences words) {
    if (!settings.sendsLinks() || person.email().isEmpty()) {
      return Outcome.NONE;
    }
    ZonedDateTime end = until.atZone(clock.getZone());
    Map<String, Value> given =
        Map.of(
            "name", new Value.Text(person.name()),
            "where", new Value.Text(settings.links()),
            "day", new Value.Text(ConfirmationMails.day(words, end)),
            "time", new Value.Time(end.toLocalTime().withSecond(0).withNano(0)));
    Outlet.Told told =
        mailer.send(
            UUID.randomUUID().toString(),
            clock.instant(),
            Mailer.Mail.withLink(
                person.email(),
                words.word("mail.password.subject", given),
                words.language().toLanguageTag(),
                words.word("mail.password.asked", given),
                link,
                words.word("page.set-password.button", given),
                words.word("mail.password.ends", given)));
    return told instanceof Outlet.Taken
        ? new Outcome(Optional.of(person.email()), Optional.empty())
        : new Outcome(Optional.empty(), Optional.of(told.answer()));
  }
}
