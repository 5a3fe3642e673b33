package nodley.service.caller;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.service.issuer.Issuers;
import nodley.store.Store;
import nodley.store.access.Keys;
import nodley.store.access.People;
import nodley.store.access.Roles;
import nodley.store.access.SignedTokens;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Bearer tokens with which an author rehearses a form on a page of another site: good for reading,
 * as an author of one form, for an hour, and no longer than whoever made it is an author. Nothing
 * of them is stored. Thread-safe.
 */
@Component
public final class RehearsalTokens {

  /** How long one is good for. */
  public static final Duration TIME = Duration.ofHours(1);

  private static final JsonMapper JSON = JsonMapper.shared();

  /** {@code rehearsal.END.SIGNED}: until when, in seconds since 1970. */
  private static final Pattern TOKEN =
      Pattern.compile("rehearsal\\.([0-9]{1,12})\\.([A-Za-z0-9_-]+)");

  private final SignedTokens tokens;
  private final Keys keys;
  private final People people;
  private final Issuers issuers;
  private final Clock clock;

  /** Who made one, by the id of the person or the name of the key, and for which form. */
  private record Content(String person, String name, String form) {}

  RehearsalTokens(Store store, Issuers issuers, Clock clock) {
    this.tokens = store.tokens();
    this.keys = store.keys();
    this.people = store.people();
    this.issuers = issuers;
    this.clock = clock;
  }

  /** Makes one for an author, for a form. */
  public String make(Caller.Known author, String form, Instant until) {
    String end = Long.toString(until.getEpochSecond());
    return "rehearsal."
        + end
        + "."
        + tokens.seal(
            purpose(end),
            JSON.writeValueAsString(new Content(author.person(), author.name(), form)));
  }

  private static String purpose(String end) {
    return "rehearsal " + end;
  }

  /**
   * Returns who shows a token; empty if it is none that was made here.
   *
   * @param method of the request
   */
  Optional<Caller> find(String token, String method, List<Locale> languages) {
    Matcher parts = TOKEN.matcher(token);
    if (!parts.matches()) {
      return Optional.empty();
    }
    return tokens
        .open(purpose(parts.group(1)), parts.group(2))
        .map(text -> JSON.readValue(text, Content.class))
        .map(content -> caller(content, parts.group(1), method, languages));
  }

  private Caller caller(Content content, String end, String method, List<Locale> languages) {
    Instant until = Instant.ofEpochSecond(Long.parseLong(end));
    if (!clock.instant().isBefore(until)) {
      return new Caller.InvalidToken("The rehearsal ended at " + until + ".", languages);
    }
    if (!isAuthor(content)) {
      return new Caller.InvalidToken(
          "Whoever began the rehearsal is no author any more.", languages);
    }
    if (!List.of("GET", "HEAD").contains(method)) {
      return new Caller.InvalidToken("The token of a rehearsal is for reading alone.", languages);
    }
    return new Caller.Known(
        content.name(),
        content.name(),
        "",
        "",
        false,
        Set.of(Roles.AUTHOR),
        Set.of(content.form()),
        languages);
  }

  private boolean isAuthor(Content content) {
    if (content.person().isEmpty()) {
      return keys.named(content.name())
          .filter(it -> isAuthor(it.roles()))
          .filter(it -> it.forms().isEmpty() || it.forms().contains(content.form()))
          .isPresent();
    }
    return content.person().startsWith("own:")
        ? people.find(content.person()).filter(it -> isAuthor(it.roles())).isPresent()
        : issuers.forSigningIn(content.person().replaceFirst(":.*", "")).isPresent();
  }

  private static boolean isAuthor(Set<String> roles) {
    return roles.contains(Roles.AUTHOR) || roles.contains(Roles.ADMIN);
  }
}
