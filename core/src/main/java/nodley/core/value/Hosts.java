package nodley.core.value;

import com.ibm.icu.text.IDNA;
import java.math.BigInteger;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * Which hosts and ports the URL parser of the WHATWG's URL Standard takes in an http or https
 * address (sections 3.5, "Host parsing", and 4.4, "port state"), as browsers do. Any thread may
 * ask.
 */
final class Hosts {

  private static final int MAX_PORT = 65_535;
  private static final int IPV6_PIECES = 8;

  /** "Forbidden domain code point" of section 3.5, beside controls. */
  private static final String FORBIDDEN = " #/:<>?@[\\]^|%\u007F";

  /** Domain to ASCII, as section 3.3 has it without beStrict. */
  private static final IDNA TO_ASCII =
      IDNA.getUTS46Instance(
          IDNA.NONTRANSITIONAL_TO_ASCII
              | IDNA.NONTRANSITIONAL_TO_UNICODE
              | IDNA.CHECK_BIDI
              | IDNA.CHECK_CONTEXTJ);

  /** What UTS #46 tells with CheckHyphens and VerifyDnsLength, which are off here. */
  private static final Set<IDNA.Error> NOT_ASKED =
      EnumSet.of(
          IDNA.Error.EMPTY_LABEL,
          IDNA.Error.LABEL_TOO_LONG,
          IDNA.Error.DOMAIN_NAME_TOO_LONG,
          IDNA.Error.LEADING_HYPHEN,
          IDNA.Error.TRAILING_HYPHEN,
          IDNA.Error.HYPHEN_3_4);

  private Hosts() {}

  /** True for digits up to 65535, however many zeros are before them, and for none. */
  static boolean isPort(String digits) {
    String number = digits.replaceFirst("^0+(?=.)", "");
    return number.isEmpty()
        || number.length() <= 5
            && number.chars().allMatch(Hosts::isDigit)
            && Integer.parseInt(number) <= MAX_PORT;
  }

  /** True for a domain, an IPv4 address in any of its notations, or an IPv6 address in brackets. */
  static boolean isHost(String host) {
    if (host.startsWith("[")) {
      return host.endsWith("]") && isIpv6(host.substring(1, host.length() - 1));
    }
    String ascii = toAscii(host);
    return !ascii.isEmpty()
        && ascii.chars().allMatch(c -> c > 0x1F && FORBIDDEN.indexOf(c) < 0)
        && (!endsInNumber(ascii) || isIpv4(ascii));
  }

  /** The domain in ASCII; empty if it cannot be one. */
  private static String toAscii(String domain) {
    boolean plain =
        domain.chars().allMatch(c -> c < 0x80)
            && !domain.toLowerCase(Locale.ROOT).matches("(.*\\.)?xn--.*");
    if (plain) {
      return domain;
    }
    var info = new IDNA.Info();
    var ascii = new StringBuilder();
    TO_ASCII.nameToASCII(domain, ascii, info);
    return NOT_ASKED.containsAll(info.getErrors()) ? ascii.toString() : "";
  }

  private static List<String> parts(String host) {
    List<String> parts = new ArrayList<>(Arrays.asList(host.split("\\.", -1)));
    if (parts.size() > 1 && parts.getLast().isEmpty()) {
      parts.removeLast();
    }
    return parts;
  }

  /** The "ends in a number checker": what ends so is an IPv4 address or nothing. */
  private static boolean endsInNumber(String host) {
    String last = parts(host).getLast();
    return !last.isEmpty()
        && (last.chars().allMatch(Hosts::isDigit) || last.matches("0[xX][0-9A-Fa-f]*"));
  }

  /**
   * The "IPv4 parser": up to four numbers, in tens, octal or hexadecimal; the last fills the rest.
   */
  private static boolean isIpv4(String host) {
    List<String> parts = parts(host);
    if (parts.size() > 4) {
      return false;
    }
    for (int i = 0; i < parts.size(); i++) {
      int bits = i == parts.size() - 1 ? 8 * (5 - parts.size()) : 8;
      if (!isNumber(parts.get(i), bits)) {
        return false;
      }
    }
    return true;
  }

  private static boolean isNumber(String part, int bits) {
    boolean hex = part.matches("0[xX][0-9A-Fa-f]*");
    boolean octal = part.matches("0[0-7]*");
    if (part.isEmpty() || !hex && !octal && !part.matches("[1-9][0-9]*")) {
      return false;
    }
    int radix = hex ? 16 : octal ? 8 : 10;
    String digits = "0" + (hex ? part.substring(2) : part);
    return new BigInteger(digits, radix).bitLength() <= bits;
  }

  /** The "IPv6 parser": eight pieces, of which one run of zeros may be left out. */
  private static boolean isIpv6(String address) {
    int gap = address.indexOf("::");
    if (gap < 0) {
      return pieces(address) == IPV6_PIECES;
    }
    String before = address.substring(0, gap);
    String after = address.substring(gap + 2);
    int left = before.isEmpty() ? 0 : before.indexOf('.') < 0 ? pieces(before) : -1;
    int right = after.isEmpty() ? 0 : pieces(after);
    return left >= 0 && right >= 0 && left + right < IPV6_PIECES;
  }

  /** How many pieces of 16 bits a part of an IPv6 address has, without a gap; -1 if it is none. */
  private static int pieces(String part) {
    String[] pieces = part.split(":", -1);
    int count = 0;
    for (int i = 0; i < pieces.length; i++) {
      if (i == pieces.length - 1 && pieces[i].indexOf('.') >= 0) {
        count += isDotted(pieces[i]) ? 2 : IPV6_PIECES + 1;
      } else if (pieces[i].matches("[0-9A-Fa-f]{1,4}")) {
        count++;
      } else {
        return -1;
      }
    }
    return count <= IPV6_PIECES ? count : -1;
  }

  /** An IPv4 address at the end of an IPv6 one: four numbers to 255, without zeros before them. */
  private static boolean isDotted(String text) {
    String[] numbers = text.split("\\.", -1);
    return numbers.length == 4
        && Arrays.stream(numbers)
            .allMatch(it -> it.matches("0|[1-9][0-9]{0,2}") && Integer.parseInt(it) < 256);
  }

  private static boolean isDigit(int c) {
    return c >= '0' && c <= '9';
  }
}
