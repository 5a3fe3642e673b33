package nodley.core.name;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Words that developers commonly write for a keyword of form files and that are spelt otherwise
 * there, from programming languages, databases and HTML. They serve hints ("Did you mean …?") and
 * are never accepted. Stateless.
 */
public final class Synonyms {

  private static final Map<String, List<String>> WORDS =
      Map.ofEntries(
          // types
          entry("string", "text"),
          entry("str", "text"),
          entry("varchar", "text"),
          entry("textarea", "text"),
          entry("number", "decimal"),
          entry("numeric", "decimal"),
          entry("float", "decimal"),
          entry("double", "decimal"),
          entry("int", "integer"),
          entry("long", "integer"),
          entry("bool", "boolean"),
          entry("checkbox", "boolean"),
          entry("password", "secret"),
          entry("mail", "email"),
          entry("tel", "phone"),
          entry("link", "url"),
          entry("timestamp", "datetime"),
          entry("datetime-local", "datetime"),
          entry("enum", "choice", "options"),
          entry("select", "choice"),
          entry("radio", "choice"),
          entry("multiselect", "choices"),
          entry("upload", "file"),
          entry("reference", "record"),
          entry("object", "group"),
          entry("fieldset", "group"),
          entry("array", "rows"),
          entry("list", "rows"),
          // who may do something
          entry("anybody", "anyone"),
          entry("everybody", "anyone"),
          entry("everyone", "anyone"),
          entry("all", "anyone"),
          entry("public", "anyone"),
          entry("authenticated", "signed-in"),
          entry("logged-in", "signed-in"),
          // keys
          entry("minlength", "length"),
          entry("maxlength", "length"),
          entry("min_length", "length"),
          entry("max_length", "length"),
          entry("size", "length"),
          entry("min", "range"),
          entry("max", "range"),
          entry("regex", "pattern"),
          entry("regexp", "pattern"),
          entry("caption", "label"),
          entry("description", "help"),
          entry("hint", "help"),
          entry("mandatory", "required"),
          entry("readonly", "editable"),
          entry("disabled", "editable"),
          entry("visible", "shown"),
          entry("hidden", "shown"),
          entry("values", "options"),
          entry("message", "say"),
          entry("goto", "go"),
          entry("redirect", "go"),
          entry("confirm", "repeats"),
          entry("equals", "repeats"),
          entry("format", "type", "pattern"),
          entry("title", "label"),
          entry("name", "label", "form"),
          entry("error", "say"),
          entry("errors", "say"),
          entry("messages", "say"),
          entry("choices", "options"),
          entry("items", "options", "fields"),
          entry("properties", "fields"),
          entry("value", "default"),
          entry("initial", "default"),
          entry("nullable", "required"),
          entry("optional", "required"));

  private Synonyms() {}

  private static Map.Entry<String, List<String>> entry(String word, String... meant) {
    return Map.entry(word, List.of(meant));
  }

  /** The known word that one stands for elsewhere, or else the one that is written most like it. */
  public static Optional<String> by(String word, Collection<String> known) {
    return WORDS.getOrDefault(word.toLowerCase(Locale.ROOT), List.of()).stream()
        .filter(known::contains)
        .findFirst()
        .or(() -> Near.to(word, known));
  }
}
