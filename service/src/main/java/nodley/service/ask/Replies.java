package nodley.service.ask;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.submission.AskReply;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import nodley.service.outside.OutsideCalls;

/**
 * Reads the answers of services that are asked: {@code {"errors": [{"pointer", "code", "detail"}],
 * "fill": {"length": 11.4}}}, where both may be left out. Nothing of an answer is trusted.
 * Stateless.
 */
final class Replies {

  private static final int MOST_ERRORS = 100;
  private static final int LONGEST_TEXT = 500;

  private static final InputLimits LIMITS = new InputLimits(16, 2_000);
  private static final Pattern UNSHOWN = Pattern.compile("[\\p{Cc}\\p{Cf}\\s]+");

  private Replies() {}

  /**
   * Reads an answer.
   *
   * @throws IOException with a few words for operators, if it is none
   */
  static AskReply.Answered read(OutsideCalls.Answer answer) throws IOException {
    int status = answer.status();
    if (status / 100 == 3) {
      throw new IOException("answered " + status + ", a redirect, which is not followed");
    }
    if (status / 100 != 2) {
      throw new IOException("answered " + status);
    }
    if (!answer.isWhole()) {
      throw new IOException("answered with more than 64 kB");
    }
    if (answer.body().length == 0) {
      return AskReply.Answered.FINE;
    }
    try {
      Map<String, Raw> members = JsonInput.read(answer.body(), LIMITS).members();
      return new AskReply.Answered(objections(members.get("errors")), fill(members.get("fill")));
    } catch (Unreadable e) {
      throw new IOException("answered with what is no JSON object", e);
    }
  }

  private static List<AskReply.Objection> objections(Raw errors) throws IOException {
    List<AskReply.Objection> found = new ArrayList<>();
    if (errors == null || errors instanceof Raw.Null) {
      return found;
    }
    if (!(errors instanceof Raw.Many(List<Raw> items))) {
      throw new IOException("answered with \"errors\" that are no list");
    }
    for (Raw item : items.stream().limit(MOST_ERRORS).toList()) {
      if (!(item instanceof Raw.Members(Map<String, Raw> members))) {
        throw new IOException("answered with \"errors\" that are no objects");
      }
      found.add(
          new AskReply.Objection(
              text(members, "pointer"), text(members, "code"), text(members, "detail")));
    }
    return found;
  }

  private static Optional<String> text(Map<String, Raw> members, String name) throws IOException {
    return switch (members.get(name)) {
      case null -> Optional.empty();
      case Raw.Null _ -> Optional.empty();
      case Raw.Text(String text) -> Optional.of(shown(text)).filter(it -> !it.isEmpty());
      default -> throw new IOException("answered with an error whose \"" + name + "\" is no text");
    };
  }

  /** A text as it may stand on a page: in one line, and not too long. */
  private static String shown(String text) {
    String line = UNSHOWN.matcher(Wellformed.of(text)).replaceAll(" ").strip();
    return line.codePointCount(0, line.length()) <= LONGEST_TEXT
        ? line
        : line.substring(0, line.offsetByCodePoints(0, LONGEST_TEXT - 1)) + "…";
  }

  private static Map<String, Raw> fill(Raw fill) throws IOException {
    Map<String, Raw> found = new LinkedHashMap<>();
    switch (fill) {
      case null -> {}
      case Raw.Null _ -> {}
      case Raw.Members(Map<String, Raw> members) -> fill("", members, found);
      default -> throw new IOException("answered with a \"fill\" that is no object");
    }
    return found;
  }

  /** Fields in groups may be named by their paths, or stand in objects. */
  private static void fill(String before, Map<String, Raw> members, Map<String, Raw> found) {
    members.forEach(
        (name, raw) -> {
          if (raw instanceof Raw.Members(Map<String, Raw> inside)) {
            fill(before + name + ".", inside, found);
          } else {
            found.put(before + name, raw);
          }
        });
  }
}
