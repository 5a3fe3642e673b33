package nodley.service.limits;

import java.net.InetAddress;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Enumeration;
import java.util.List;
import java.util.Locale;
import java.util.OptionalInt;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Parses {@code Forwarded} (RFC 7239) and {@code X-Forwarded-*} headers, hop by hop, the nearest to
 * the service last. Malformed parts are left out; it never fails.
 */
record Forwarded(List<Hop> hops) {

  private static final int MOST_HOPS = 50;
  private static final int LONGEST = 4_000;

  /** One {@code name=value} of a forwarded-element, and the comma or semicolon after it. */
  private static final Pattern PAIR =
      Pattern.compile(
          "\\G\\s*(?:([!#$%&'*+.^_`|~0-9A-Za-z-]+)=(?:\"((?:[^\"\\\\]|\\\\.)*+)\"|([^\\s\";,]*+)))?"
              + "\\s*([;,]|$)");

  private static final Pattern HOST =
      Pattern.compile("([A-Za-z0-9._-]{1,253}|\\[[0-9A-Fa-f:.]{2,45}\\])(?::([0-9]{1,5}))?");

  /**
   * What one proxy says.
   *
   * @param address of whoever sent the request to it; empty if it does not say, or not as an IP
   *     address
   * @param scheme {@code http}, {@code https} or empty
   * @param host as the client named it, without port; or empty
   */
  record Hop(String address, String scheme, String host, OptionalInt port) {

    /** As a browser has it in {@code Host} and {@code Origin}: without the port that is usual. */
    String hostAndPort() {
      boolean usual = port.isEmpty() || port.getAsInt() == (scheme.equals("https") ? 443 : 80);
      return usual ? host : host + ":" + port.getAsInt();
    }
  }

  /** Reads them from the headers of a request. */
  static Forwarded of(ProxySettings.Headers which, Function<String, Enumeration<String>> headers) {
    return new Forwarded(
        switch (which) {
          case FORWARDED -> standard(joined(headers, "Forwarded"));
          case X_FORWARDED -> older(headers);
        });
  }

  private static String joined(Function<String, Enumeration<String>> headers, String name) {
    Enumeration<String> values = headers.apply(name);
    return values.hasMoreElements() ? String.join(",", Collections.list(values)) : "";
  }

  private static List<Hop> standard(String header) {
    if (header.isEmpty() || header.length() > LONGEST) {
      return List.of();
    }
    List<Hop> hops = new ArrayList<>();
    String address = "";
    String scheme = "";
    String host = "";
    Matcher pair = PAIR.matcher(header);
    int end = 0;
    while (end < header.length() && pair.find() && hops.size() < MOST_HOPS) {
      String name = pair.group(1) == null ? "" : pair.group(1).toLowerCase(Locale.ROOT);
      String value =
          pair.group(2) != null ? pair.group(2).replaceAll("\\\\(.)", "$1") : pair.group(3);
      switch (name) {
        case "for" -> address = address(value);
        case "proto" -> scheme = scheme(value);
        case "host" -> host = value;
        default -> {}
      }
      end = pair.end();
      if (!pair.group(4).equals(";")) {
        hops.add(hop(address, scheme, host, ""));
        address = "";
        scheme = "";
        host = "";
      }
    }
    // What breaks off in the middle says nothing that could be relied on.
    return end < header.length() ? List.of() : hops;
  }

  /**
   * The lists of addresses and of the rest need not be equally long; the last ones belong together.
   */
  private static List<Hop> older(Function<String, Enumeration<String>> headers) {
    String addresses = joined(headers, "X-Forwarded-For");
    if (addresses.length() > LONGEST) {
      return List.of();
    }
    String scheme = scheme(last(joined(headers, "X-Forwarded-Proto")));
    String host = last(joined(headers, "X-Forwarded-Host"));
    String port = last(joined(headers, "X-Forwarded-Port"));
    if (addresses.isEmpty() && scheme.isEmpty() && host.isEmpty()) {
      return List.of();
    }
    List<Hop> hops = new ArrayList<>();
    for (String each : addresses.split(",")) {
      hops.add(hop(address(each.strip()), scheme, host, port));
    }
    return hops;
  }

  private static String last(String list) {
    return list.substring(list.lastIndexOf(',') + 1).strip();
  }

  private static Hop hop(String address, String scheme, String hostAndPort, String port) {
    Matcher host = HOST.matcher(hostAndPort);
    if (!host.matches()) {
      return new Hop(address, scheme, "", OptionalInt.empty());
    }
    return new Hop(
        address, scheme, host.group(1), port(host.group(2) == null ? port : host.group(2)));
  }

  private static OptionalInt port(String text) {
    if (text.isEmpty() || text.length() > 5 || !text.chars().allMatch(c -> c >= '0' && c <= '9')) {
      return OptionalInt.empty();
    }
    int port = Integer.parseInt(text);
    return port >= 1 && port <= 65_535 ? OptionalInt.of(port) : OptionalInt.empty();
  }

  private static String scheme(String text) {
    String scheme = text.toLowerCase(Locale.ROOT);
    return scheme.equals("http") || scheme.equals("https") ? scheme : "";
  }

  /** An IP address, without port and brackets; empty if it is none. */
  private static String address(String text) {
    String bare =
        text.startsWith("[") && text.indexOf(']') > 0
            ? text.substring(1, text.indexOf(']'))
            : text.indexOf(':') == text.lastIndexOf(':') ? text.replaceFirst(":.*", "") : text;
    try {
      return InetAddress.ofLiteral(bare).getHostAddress();
    } catch (IllegalArgumentException e) {
      return "";
    }
  }
}
