package nodley.cli.start;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.value.Addresses;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;

/** What a field may be, by its name or by its values. */
final class Guess {

  private static final Map<String, String> BY_NAME =
      Map.of(
          "email|mail", "email",
          "phone|telephone|tel|mobile", "phone",
          "url|website|homepage|link", "url",
          "password|passphrase|secret", "secret");

  /** The first of these that all values are is their type. */
  private static final List<Map.Entry<String, Predicate<String>>> BY_VALUES =
      List.of(
          Map.entry("boolean", text -> text.matches("(?i)true|false|yes|no")),
          Map.entry("integer", text -> text.matches("-?(0|[1-9][0-9]{0,14})")),
          Map.entry("decimal", Guess::isDecimal),
          Map.entry("date", text -> Dates.read(text).isPresent()),
          Map.entry("time", text -> Dates.time(text).isPresent()),
          Map.entry("datetime", Guess::isMoment),
          Map.entry("email", text -> text.matches(Addresses.EMAIL)),
          Map.entry("url", text -> text.matches(Addresses.URL)),
          Map.entry("phone", text -> text.matches("\\+[0-9][0-9 ().-]{6,24}")));

  private Guess() {}

  /** The type that a text's name speaks of, such as {@code contactEmail}. */
  static Optional<String> byName(String name) {
    String words =
        " " + name.replaceAll("([a-z0-9])([A-Z])", "$1 $2").toLowerCase(Locale.ROOT) + " ";
    return BY_NAME.entrySet().stream()
        .filter(it -> words.matches(".* (" + it.getKey() + ") .*"))
        .map(Map.Entry::getValue)
        .findFirst();
  }

  /** Whether a text can be a value of a type that a name speaks of. */
  static boolean fits(String type, String text) {
    return switch (type) {
      case "email" -> Addresses.isEmail(text.strip());
      case "url" -> Addresses.isUrl(text.strip());
      case "phone" -> text.replaceAll("[ ().-]", "").matches("\\+?[0-9]{7,15}");
      default -> true;
    };
  }

  /** The type that all these texts can be read as; text if there is no other. */
  static String byValues(List<String> values) {
    return BY_VALUES.stream()
        .filter(it -> !values.isEmpty() && values.stream().allMatch(it.getValue()))
        .map(Map.Entry::getKey)
        .findFirst()
        .orElse("text");
  }

  /** A leading zero makes a number of digits a name rather than a number. */
  private static boolean isDecimal(String text) {
    return !text.matches("-?0[0-9].*") && Numbers.read(text).filter(Numbers::isPrecise).isPresent();
  }

  private static boolean isMoment(String text) {
    return text.length() > 10 && Dates.moment(text, java.time.ZoneOffset.UTC).isPresent();
  }
}
