package nodley.service.limits;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.springframework.boot.context.properties.bind.DefaultValue;

/**
 * The mail that an outlet is: {@code nodley.outlets.NAME.mail.*}. {@code {contact.email}} stands
 * for a value of the record, {@code {id}} and {@code {form}} for what it is of.
 *
 * @param to whom it goes to: one address
 * @param replyTo where an answer goes to; left out, to the sender
 * @param subject its subject
 * @param text the file with its text; beside {@code welcome.txt}, {@code welcome.de.txt} is the
 *     German one
 * @param html the file with its HTML, likewise; left out, the mail is text alone
 */
public record MailTemplateSettings(
    @DefaultValue("") String to,
    @DefaultValue("") String replyTo,
    @DefaultValue("") String subject,
    @DefaultValue("") String text,
    @DefaultValue("") String html) {

  /** True if the outlet is a mail. */
  boolean isSet() {
    return Stream.of(to, replyTo, subject, text, html).anyMatch(it -> !it.isEmpty());
  }

  void check(String at) {
    for (Map.Entry<String, String> each :
        List.of(Map.entry("to", to), Map.entry("subject", subject), Map.entry("text", text))) {
      if (each.getValue().isBlank()) {
        throw new IllegalArgumentException(at + "." + each.getKey() + " is missing.");
      }
    }
    read(at + ".text", text);
    if (!html.isEmpty()) {
      read(at + ".html", html);
    }
  }

  /** Returns the texts by their languages; the one without a language under the empty text. */
  public Map<String, String> texts() {
    return byLanguage("text", text);
  }

  /** Returns the HTML by its languages, as {@link #texts}; none if there is none. */
  public Map<String, String> htmls() {
    return html.isEmpty() ? Map.of() : byLanguage("html", html);
  }

  private static Map<String, String> byLanguage(String setting, String name) {
    Map<String, String> found = new TreeMap<>();
    found.put("", read(setting, name));
    Path file = Path.of(name);
    String full = file.getFileName().toString();
    int dot = full.lastIndexOf('.') < 0 ? full.length() : full.lastIndexOf('.');
    String begins = full.substring(0, dot) + ".";
    String ends = full.substring(dot);
    Path folder = file.toAbsolutePath().getParent();
    try (Stream<Path> beside = Files.list(folder)) {
      beside
          .map(it -> it.getFileName().toString())
          .filter(it -> it.startsWith(begins) && it.endsWith(ends))
          .filter(it -> it.length() > begins.length() + ends.length())
          .forEach(
              it ->
                  found.put(
                      it.substring(begins.length(), it.length() - ends.length()),
                      read(setting, folder.resolve(it).toString())));
    } catch (IOException e) {
      throw new IllegalArgumentException(setting + ": " + folder + " cannot be read.", e);
    }
    return found;
  }

  private static String read(String setting, String name) {
    try {
      return Files.readString(Path.of(name), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new IllegalArgumentException(
          setting
              + " is \""
              + name
              + "\"; there must be such a file, in UTF-8: "
              + Path.of(name).toAbsolutePath()
              + ".",
          e);
    }
  }
}
