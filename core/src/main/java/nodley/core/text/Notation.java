package nodley.core.text;

import com.ibm.icu.number.NumberFormatter;
import com.ibm.icu.number.Precision;
import com.ibm.icu.text.DateFormat;
import com.ibm.icu.text.DecimalFormatSymbols;
import com.ibm.icu.util.TimeZone;
import com.ibm.icu.util.ULocale;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Date;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Pattern;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * How a language writes numbers and dates, by Unicode's CLDR. English uses the standard form,
 * {@code 1234.5} and 2027-03-01, because its date notations are ambiguous.
 */
public final class Notation {

  /** As on the wire. */
  public static final Notation STANDARD = new Notation(Locale.ENGLISH);

  private static final Map<Locale, Notation> KNOWN = new ConcurrentHashMap<>();

  /** White space that stands between groups of digits, in whatever language. */
  private static final String SPACES = "[ \u00A0\u202F]";

  private final ULocale language;
  private final boolean standard;
  private final String point;
  private final String[] digits;
  private final Pattern written;

  private Notation(Locale locale) {
    language = ULocale.forLocale(locale);
    standard = locale.getLanguage().equals("en");
    DecimalFormatSymbols symbols = DecimalFormatSymbols.getInstance(language);
    point = symbols.getDecimalSeparatorString();
    digits = symbols.getDigitStrings();
    String group = symbols.getGroupingSeparatorString();
    String between = group.matches(SPACES) ? SPACES : Pattern.quote(group);
    written =
        Pattern.compile(
            "-?([0-9]{1,3}(" + between + "[0-9]{3})+|[0-9]*)(" + Pattern.quote(point) + "[0-9]+)?");
  }

  /** The ways of a language; those of a language that nobody knows are those of English. */
  public static Notation of(Locale language) {
    return KNOWN.computeIfAbsent(language, Notation::new);
  }

  /**
   * A typed number in standard form, if it is written in the language's way; otherwise as it is.
   * Digits before the point may stand in groups of three.
   */
  public String standard(String typed) {
    if (standard) {
      return typed;
    }
    String text = typed.strip();
    for (int i = 0; i < digits.length; i++) {
      text = text.replace(digits[i], Integer.toString(i));
    }
    if (text.isEmpty() || !written.matcher(text).matches()) {
      return typed;
    }
    int end = text.lastIndexOf(point);
    String whole = (end < 0 ? text : text.substring(0, end)).replaceAll("[^0-9-]", "");
    return end < 0 ? whole : whole + "." + text.substring(end + point.length());
  }

  /** A number as a control shows it: without groups, so that it can be typed over. */
  public String typed(BigDecimal number) {
    String plain = Numbers.plain(number);
    return standard ? plain : plain.replace(".", point);
  }

  /** A number, a date, as it is read; all others in standard form. */
  public String shown(Value value) {
    return switch (value) {
      case Value.Number(BigDecimal number) when !standard -> grouped(number);
      case Value.Date(LocalDate date) when !standard -> dated(date);
      default -> value.shown();
    };
  }

  private String grouped(BigDecimal number) {
    return NumberFormatter.withLocale(language)
        .precision(Precision.unlimited())
        .format(number)
        .toString();
  }

  private String dated(LocalDate date) {
    DateFormat format = DateFormat.getDateInstance(DateFormat.MEDIUM, language);
    format.setTimeZone(TimeZone.GMT_ZONE);
    return format.format(Date.from(date.atStartOfDay(ZoneOffset.UTC).toInstant()));
  }
}
