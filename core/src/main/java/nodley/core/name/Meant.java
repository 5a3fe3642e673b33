package nodley.core.name;

import java.util.Collection;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Words that people naturally write for one that is meant, though no letter of the two may be
 * alike: those of programming languages, databases and HTML.
 */
public final class Meant {

  private static final Map<String, String> WORDS =
      Map.ofEntries(
          // types
          Map.entry("string", "text"),
          Map.entry("str", "text"),
          Map.entry("varchar", "text"),
          Map.entry("textarea", "text"),
          Map.entry("number", "decimal"),
          Map.entry("numeric", "decimal"),
          Map.entry("float", "decimal"),
          Map.entry("double", "decimal"),
          Map.entry("int", "integer"),
          Map.entry("long", "integer"),
          Map.entry("bool", "boolean"),
          Map.entry("checkbox", "boolean"),
          Map.entry("password", "secret"),
          Map.entry("mail", "email"),
          Map.entry("tel", "phone"),
          Map.entry("link", "url"),
          Map.entry("timestamp", "datetime"),
          Map.entry("datetime-local", "datetime"),
          Map.entry("enum", "choice"),
          Map.entry("select", "choice"),
          Map.entry("radio", "choice"),
          Map.entry("multiselect", "choices"),
          Map.entry("upload", "file"),
          Map.entry("reference", "record"),
          Map.entry("object", "group"),
          Map.entry("fieldset", "group"),
          Map.entry("array", "rows"),
          Map.entry("list", "rows"),
          // keys
          Map.entry("minlength", "length"),
          Map.entry("maxlength", "length"),
          Map.entry("min_length", "length"),
          Map.entry("max_length", "length"),
          Map.entry("size", "length"),
          Map.entry("min", "range"),
          Map.entry("max", "range"),
          Map.entry("regex", "pattern"),
          Map.entry("regexp", "pattern"),
          Map.entry("caption", "label"),
          Map.entry("description", "help"),
          Map.entry("hint", "help"),
          Map.entry("mandatory", "required"),
          Map.entry("readonly", "editable"),
          Map.entry("disabled", "editable"),
          Map.entry("visible", "shown"),
          Map.entry("hidden", "shown"),
          Map.entry("values", "options"),
          Map.entry("message", "say"),
          Map.entry("goto", "go"),
          Map.entry("redirect", "go"));

  private Meant() {}

  /** The known word that one stands for elsewhere, or else the one that is written most like it. */
  public static Optional<String> by(String word, Collection<String> known) {
    return Optional.ofNullable(WORDS.get(word.toLowerCase(Locale.ROOT)))
        .filter(known::contains)
        .or(() -> Near.to(word, known));
  }
}
