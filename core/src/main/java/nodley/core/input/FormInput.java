package nodley.core.input;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Reads {@code application/x-www-form-urlencoded} text (WHATWG URL, section 5.1), for bodies and
 * for query strings. A name that comes more than once keeps all its values, in order; dotted and
 * indexed names are nested values: {@code contact.email}, {@code crew[0].name}.
 */
public final class FormInput {

  private FormInput() {}

  /**
   * Reads a body.
   *
   * @throws Unreadable if a percent sequence is broken, the bytes are not UTF-8, or there are more
   *     pairs than the limits allow
   */
  public static Input read(byte[] body, InputLimits limits) throws Unreadable {
    NamedTree tree = new NamedTree();
    for (Map.Entry<String, List<String>> pair : pairs(body, limits).entrySet()) {
      tree.add(pair.getKey(), pair.getValue(), limits);
    }
    return new Input(tree.toMembers(), Input.Encoding.FORM);
  }

  /** Reads names and their values, both decoded, in the order of their first appearance. */
  public static Map<String, List<String>> pairs(byte[] body, InputLimits limits) throws Unreadable {
    Map<String, List<String>> pairs = new LinkedHashMap<>();
    int count = 0;
    int start = 0;
    while (start < body.length) {
      int end = indexOf(body, '&', start, body.length);
      if (end > start) {
        if (++count > limits.values()) {
          throw Unreadable.tooMany(limits.values());
        }
        int equals = indexOf(body, '=', start, end);
        String name = decode(body, start, equals);
        String value = equals < end ? decode(body, equals + 1, end) : "";
        pairs.computeIfAbsent(name, _ -> new ArrayList<>()).add(value);
      }
      start = end + 1;
    }
    return pairs;
  }

  /** Reads a query string; null, as a request without one has, is no pairs. */
  public static Map<String, List<String>> query(String query) throws Unreadable {
    return query == null
        ? Map.of()
        : pairs(query.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }

  private static int indexOf(byte[] bytes, char c, int from, int to) {
    int i = from;
    while (i < to && bytes[i] != c) {
      i++;
    }
    return i;
  }

  private static String decode(byte[] bytes, int from, int to) throws Unreadable {
    var out = new ByteArrayOutputStream(to - from);
    for (int i = from; i < to; i++) {
      switch (bytes[i]) {
        case '+' -> out.write(' ');
        case '%' -> {
          int high = hex(bytes, i + 1, to);
          int low = hex(bytes, i + 2, to);
          if (high < 0 || low < 0) {
            throw Unreadable.because(
                "The body has a '%' that two hexadecimal digits do not follow.");
          }
          out.write(high * 16 + low);
          i += 2;
        }
        default -> out.write(bytes[i]);
      }
    }
    return Utf8.decode(out.toByteArray())
        .orElseThrow(() -> Unreadable.because("The body is not UTF-8 text once it is decoded."));
  }

  private static int hex(byte[] bytes, int at, int to) {
    return at < to ? Character.digit(bytes[at], 16) : -1;
  }
}
