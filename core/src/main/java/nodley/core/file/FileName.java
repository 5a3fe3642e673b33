package nodley.core.file;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Tells the kind of a file from its name: {@code services.list.yaml} is a list, {@code
 * visit.de.yaml} has the texts of a form in a language; any other is a form.
 *
 * @param name of the list, the part, the theme or the texts; empty for a form, whose text has it
 */
public record FileName(Kind kind, String name) {

  private static final Pattern SHARED =
      Pattern.compile("(.*)\\.(list|part|theme)\\.(?:ya?ml|json)");

  /** The kinds of files that are published. */
  public enum Kind {
    FORM,
    LIST,
    PART,
    THEME,
    TEXTS;

    /** The name on the wire and in commands. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** Reads the last part of a path. */
  public static FileName of(String file) {
    Matcher shared = SHARED.matcher(file);
    if (shared.matches()) {
      Kind kind =
          switch (shared.group(2)) {
            case "list" -> Kind.LIST;
            case "part" -> Kind.PART;
            default -> Kind.THEME;
          };
      return new FileName(kind, shared.group(1));
    }
    String name = file.replaceFirst("\\.(ya?ml|json)$", "");
    Optional<TextsFile.Name> texts = TextsFile.name(name);
    return texts.isPresent() ? new FileName(Kind.TEXTS, name) : new FileName(Kind.FORM, "");
  }
}
