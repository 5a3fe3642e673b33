package nodley.core.expression;

import java.util.ArrayList;
import java.util.List;

/**
 * Splits the text of an expression into tokens, each with its offset, so that an error can point at
 * its place. White space separates tokens and means nothing else. Confined to one call of {@link
 * #tokens}; time is linear in the length of the text.
 */
final class Lexer {

  private static final List<String> SIGNS =
      List.of("!=", "<=", ">=", "=", "<", ">", "+", "-", "*", "/", "(", ")", "[", "]", ",", ".");

  /** What a token is. */
  enum TokenType {
    NUMBER,
    TEXT,
    WORD,
    SIGN,
    END
  }

  /** One token; a text's token holds what stands between its quotes, escapes resolved. */
  record Token(TokenType type, String text, int offset) {
    boolean is(String sign) {
      return (type == TokenType.SIGN || type == TokenType.WORD) && text.equals(sign);
    }
  }

  private final String source;
  private int at;

  private Lexer(String source) {
    this.source = source;
  }

  static List<Token> tokens(String source) throws BadExpression {
    var lexer = new Lexer(source);
    List<Token> tokens = new ArrayList<>();
    do {
      tokens.add(lexer.next());
    } while (tokens.getLast().type() != TokenType.END);
    return tokens;
  }

  private Token next() throws BadExpression {
    while (at < source.length() && " \t\r\n".indexOf(source.charAt(at)) >= 0) {
      at++;
    }
    int start = at;
    if (at == source.length()) {
      return new Token(TokenType.END, "", start);
    }
    char c = source.charAt(at);
    if (isDigit(c)) {
      return number(start);
    }
    if (isLetter(c)) {
      while (at < source.length() && (isLetter(source.charAt(at)) || isDigit(source.charAt(at)))) {
        at++;
      }
      return new Token(TokenType.WORD, source.substring(start, at), start);
    }
    if (c == '"') {
      return text(start);
    }
    for (String sign : SIGNS) {
      if (source.startsWith(sign, at)) {
        at += sign.length();
        return new Token(TokenType.SIGN, sign, start);
      }
    }
    String hint =
        switch (c) {
          case '\'' -> " Texts stand in double quotes.";
          case '!' -> " Use `not`, or `!=`.";
          case '&' -> " Use `and`.";
          case '|' -> " Use `or`.";
          default -> "";
        };
    throw new BadExpression(
        start,
        "`"
            + Character.toString(source.codePointAt(at))
            + "` is not part of an expression."
            + hint);
  }

  private Token number(int start) throws BadExpression {
    digits();
    // "1.." never occurs: a dot belongs to the number only before a digit.
    if (at + 1 < source.length() && source.charAt(at) == '.' && isDigit(source.charAt(at + 1))) {
      at++;
      digits();
    }
    if (at < source.length() && isLetter(source.charAt(at))) {
      throw new BadExpression(at, "A number ends here, but a letter follows.");
    }
    return new Token(TokenType.NUMBER, source.substring(start, at), start);
  }

  private void digits() {
    while (at < source.length() && isDigit(source.charAt(at))) {
      at++;
    }
  }

  private Token text(int start) throws BadExpression {
    var out = new StringBuilder();
    for (at++; at < source.length(); at++) {
      char c = source.charAt(at);
      if (c == '"') {
        at++;
        return new Token(TokenType.TEXT, out.toString(), start);
      }
      if (c == '\\') {
        char escaped = ++at < source.length() ? source.charAt(at) : ' ';
        if (escaped != '"' && escaped != '\\') {
          throw new BadExpression(at - 1, "In a text, only \\\" and \\\\ are escapes.");
        }
        out.append(escaped);
      } else {
        out.append(c);
      }
    }
    throw new BadExpression(start, "This text has no closing quote.");
  }

  private static boolean isDigit(char c) {
    return c >= '0' && c <= '9';
  }

  private static boolean isLetter(char c) {
    return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c == '_';
  }
}
