package nodley.service.delivery;

import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/**
 * A text in which {@code {contact.email}} stands for a value of what is told. Other braces stay as
 * they are, such as those of a style sheet. Immutable.
 */
record MailTemplate(String text) {

  private static final Pattern NAME =
      Pattern.compile("\\{([A-Za-z][A-Za-z0-9]*(?:\\.[A-Za-z][A-Za-z0-9]*)*)}");

  /**
   * Puts values in place of names, all in one pass; one that there is not is blank.
   *
   * @param data what is told: values, and the form and id that they are of
   * @param escape what is done to each value, for the place where it stands
   */
  String fill(JsonNode data, UnaryOperator<String> escape) {
    return NAME.matcher(text)
        .replaceAll(
            match -> Matcher.quoteReplacement(escape.apply(shown(find(data, match.group(1))))));
  }

  private static JsonNode find(JsonNode data, String name) {
    JsonNode found = data.path("values");
    for (String part : name.split("\\.")) {
      found = found.path(part);
    }
    boolean isOfRecord = found.isMissingNode() && (name.equals("id") || name.equals("form"));
    return isOfRecord ? data.path(name) : found;
  }

  private static String shown(JsonNode value) {
    if (value.isArray()) {
      return value
          .valueStream()
          .map(MailTemplate::shown)
          .filter(it -> !it.isEmpty())
          .collect(Collectors.joining(", "));
    }
    // Of a file, its name.
    return value.isObject() ? value.path("name").asString("") : value.asString("");
  }
}
