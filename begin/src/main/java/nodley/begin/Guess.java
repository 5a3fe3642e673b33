package nodley.begin;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.name.Words;
import nodley.core.value.Addresses;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;

/**
 * Guesses what a field is, by its name or by its values. A guess is told in the file as a comment,
 * so that its author can correct it. Stateless.
 */
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
    String words = " " + Words.of(name).toLowerCase(Locale.ROOT) + " ";
    return BY_NAME.entrySet().stream()
        .filter(it -> words.matches(".* (" + it.getKey() + ") .*"))
        .map(Map.Entry::getValue)
        .findFirst();
  }

  /** How values are written where that is not as Nodley reads them. */
  record Written(String type, String note) {}

  /** From this number of rows on, a column of zeros and ones counts as boolean. */
  private static final int SOME = 4;

  private static final Pattern COMMA =
      Pattern.compile("-?([0-9]+|[0-9]{1,3}([. ][0-9]{3})+),[0-9]+");
  private static final Pattern WHOLE = Pattern.compile("-?([0-9]+|[0-9]{1,3}([. ][0-9]{3})+)");
  private static final Pattern DAY =
      Pattern.compile("([0-9]{1,2})([/.-])([0-9]{1,2})\\2([0-9]{4})");

  /** Numbers with a decimal comma, dates in the order of a country, zeros and ones. */
  static Optional<Written> written(List<String> values) {
    if (values.size() >= SOME && Set.copyOf(values).equals(Set.of("0", "1"))) {
      return Optional.of(new Written("boolean", "There 0 is no, and 1 is yes."));
    }
    boolean numbers =
        values.stream().anyMatch(it -> COMMA.matcher(it).matches())
            && values.stream()
                .allMatch(it -> COMMA.matcher(it).matches() || WHOLE.matcher(it).matches());
    if (numbers) {
      return Optional.of(
          new Written(
              "decimal", "There numbers have a decimal comma, such as " + values.getFirst() + "."));
    }
    return dates(values);
  }

  private static Optional<Written> dates(List<String> values) {
    boolean dayFirst = !values.isEmpty();
    boolean monthFirst = dayFirst;
    for (String value : values) {
      Matcher parts = DAY.matcher(value);
      if (!parts.matches()) {
        return Optional.empty();
      }
      dayFirst &= isDay(parts.group(4), parts.group(3), parts.group(1));
      monthFirst &= isDay(parts.group(4), parts.group(1), parts.group(3));
    }
    if (!dayFirst && !monthFirst) {
      return Optional.empty();
    }
    String order =
        dayFirst && monthFirst
            ? "in an order that these values do not tell"
            : dayFirst ? "with the day first" : "with the month first";
    return Optional.of(
        new Written(
            "date", "There dates are written " + order + ", such as " + values.getFirst() + "."));
  }

  private static boolean isDay(String year, String month, String day) {
    return Dates.read("%s-%2s-%2s".formatted(year, month, day).replace(' ', '0')).isPresent();
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
