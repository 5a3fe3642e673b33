package nodley.service.caller;

import jakarta.servlet.http.HttpServletRequest;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Locale.LanguageRange;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.core.file.TextsFile;
import nodley.core.input.FormInput;
import nodley.core.input.Unreadable;

/**
 * The languages that a request asks for, the most wanted first: the parameter {@code lang} of its
 * query, then {@code Accept-Language} (RFC 9110, section 12.5.4). What cannot be read is passed
 * over.
 */
public final class RequestedLanguages {

  private static final int MAX_HEADER = 1_000;

  private RequestedLanguages() {}

  /** The best first; what cannot be read is left out, and told where the query is read. */
  public static List<Locale> languages(HttpServletRequest request) {
    List<Locale> languages = new ArrayList<>();
    lang(request).flatMap(TextsFile::language).ifPresent(languages::add);
    String header = request.getHeader("Accept-Language");
    if (header != null && header.length() <= MAX_HEADER) {
      try {
        // RFC 9110, section 12.5.4: what has the weight 0 is not wanted, and * is any.
        LanguageRange.parse(header).stream()
            .filter(range -> range.getWeight() > 0 && !range.getRange().startsWith("*"))
            .sorted(Comparator.comparingDouble(LanguageRange::getWeight).reversed())
            .flatMap(range -> TextsFile.language(range.getRange()).stream())
            .forEach(languages::add);
      } catch (IllegalArgumentException e) {
        // A header that is no list of languages asks for none.
      }
    }
    return languages;
  }

  /** The query that keeps to the language that an address asked for; empty if it asked for none. */
  public static String query(HttpServletRequest request) {
    return lang(request)
        .flatMap(TextsFile::language)
        .map(it -> "?lang=" + it.toLanguageTag())
        .orElse("");
  }

  private static Optional<String> lang(HttpServletRequest request) {
    String query = request.getQueryString();
    // Most have none, and each request asks; a name can also be written with percent signs.
    if (query == null || !query.contains("lang=") && !query.contains("%")) {
      return Optional.empty();
    }
    try {
      return Stream.ofNullable(FormInput.query(query).get("lang"))
          .flatMap(List::stream)
          .findFirst();
    } catch (Unreadable e) {
      return Optional.empty();
    }
  }
}
