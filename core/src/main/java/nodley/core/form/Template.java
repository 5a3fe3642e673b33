package nodley.core.form;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Text with {@code {names}} of fields: titles, names of records, messages. */
public record Template(String text) {

  private static final Pattern NAME = Pattern.compile("\\{([^{}]*)}");

  /** The names in the order in which they stand. */
  public List<String> names() {
    List<String> names = new ArrayList<>();
    Matcher matcher = NAME.matcher(text);
    while (matcher.find()) {
      names.add(matcher.group(1));
    }
    return names;
  }

  /** Puts texts in place of names, all in one pass, so that an inserted brace stays a brace. */
  public String fill(Function<String, String> texts) {
    return NAME.matcher(text)
        .replaceAll(match -> Matcher.quoteReplacement(texts.apply(match.group(1))));
  }
}
