package nodley.store.sqlite;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * Splits a search into the words that are looked up. Their number is limited, because each is a
 * scan of the word index.
 */
public final class SearchWords {

  /** Maximum number of different words in a search. */
  public static final int MAX = 8;

  /** Maximum length of a search, in characters. */
  public static final int MAX_LENGTH = 200;

  private SearchWords() {}

  /** The different words of a text; one that another begins with is found by that one. */
  public static List<String> of(String text) {
    Set<String> words = new LinkedHashSet<>();
    for (String word : text.strip().split("\\s+")) {
      if (!word.isEmpty()) {
        words.add(word.toLowerCase(Locale.ROOT));
      }
    }
    List<String> needed = new ArrayList<>();
    for (String word : words) {
      if (words.stream().noneMatch(it -> !it.equals(word) && it.startsWith(word))) {
        needed.add(word);
      }
    }
    return needed;
  }
}
