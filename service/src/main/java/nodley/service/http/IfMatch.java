package nodley.service.http;

import jakarta.servlet.http.HttpServletRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.service.problem.Problem;

/**
 * Reads the version that a change is meant for from {@code If-Match} (RFC 9110, section 13.1.1).
 * Accepts weak tags; {@code *} names no version and counts as missing.
 */
public final class IfMatch {

  private static final Pattern TAG =
      Pattern.compile("[\\s,]*(?:W/)?\"([^\"]*)\"\\s*(?:,[\\s,]*|$)");

  private IfMatch() {}

  /** The version that the caller knows; of several the current one, else the latest. */
  public static long version(HttpServletRequest request, long current) {
    String header = request.getHeader("If-Match");
    if (header == null || header.isBlank() || header.strip().equals("*")) {
      throw Problem.of(
          428,
          "version-needed",
          "Precondition required: missing If-Match header",
          "Send the ETag that you know, such as If-Match: \""
              + current
              + "\" (* is not accepted).");
    }
    List<String> tags = new ArrayList<>();
    Matcher tag = TAG.matcher(header);
    int end = 0;
    while (tag.find() && tag.start() == end) {
      tags.add(tag.group(1));
      end = tag.end();
    }
    if (end != header.length()) {
      throw Problem.of(
          400,
          "unreadable",
          "If-Match cannot be read",
          "If-Match is an ETag in double quotes, such as \"" + current + "\".");
    }
    return tags.contains(Long.toString(current))
        ? current
        : tags.stream()
            .filter(it -> it.matches("[1-9][0-9]{0,17}"))
            .mapToLong(Long::parseLong)
            .max()
            .orElse(-1);
  }
}
