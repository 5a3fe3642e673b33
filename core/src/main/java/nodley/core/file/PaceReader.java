package nodley.core.file;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.form.Pace;

/** Reads {@code pace}: how much an address may send while nobody is known to send it. */
final class PaceReader {

  private static final Pattern RATE =
      Pattern.compile("([1-9][0-9]{0,5}) */ *(second|minute|hour|day)");

  private PaceReader() {}

  static Pace read(Section file) {
    Section section = file.section("pace").orElse(null);
    if (section == null) {
      return Pace.OF_SERVICE;
    }
    section.allow(FormKeys.PACE);
    return new Pace(rate(section, "add"), rate(section, "check"));
  }

  private static Optional<Pace.Rate> rate(Section section, String key) {
    Optional<String> text = section.text(key);
    Optional<Matcher> rate = text.map(RATE::matcher).filter(Matcher::matches);
    if (text.isPresent() && rate.isEmpty()) {
      section.bad(
          key,
          "bad-value",
          "`"
              + key
              + "` is a number from 1 to 999999 in a second, minute, hour or day, such as"
              + " `10/minute`.");
    }
    return rate.map(
        it ->
            new Pace.Rate(Integer.parseInt(it.group(1)), Pace.Unit.of(it.group(2)).orElseThrow()));
  }
}
