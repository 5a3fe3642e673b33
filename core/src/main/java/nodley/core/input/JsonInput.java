package nodley.core.input;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.TokenStreamFactory;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.core.exc.StreamConstraintsException;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.core.json.JsonFactory;

/**
 * Parses a submission from JSON (RFC 8259): strict UTF-8, no name twice in an object, bounded
 * depth, length and number of values. Whatever exceeds a bound is told with its place, and nothing
 * of it is read further. Memory is in proportion to the body.
 */
public final class JsonInput {

  /** A JSON number is read up to this many characters. */
  private static final int MAX_NUMBER = 1_000;

  private static final JsonFactory JSON =
      JsonFactory.builder()
          // The names of fields are interned too: most are told by their place in memory.
          .enable(TokenStreamFactory.Feature.INTERN_PROPERTY_NAMES)
          .streamReadConstraints(
              StreamReadConstraints.builder()
                  .maxNumberLength(MAX_NUMBER)
                  .maxStringLength(Integer.MAX_VALUE)
                  .maxNameLength(Integer.MAX_VALUE)
                  .maxNestingDepth(Integer.MAX_VALUE)
                  .build())
          .build();

  private final JsonParser in;
  private final InputLimits limits;
  private int depth;
  private int values;

  private JsonInput(JsonParser in, InputLimits limits) {
    this.in = in;
    this.limits = limits;
  }

  /**
   * Reads a JSON object.
   *
   * @throws Unreadable if the bytes are not UTF-8, not JSON, not an object, name a member twice,
   *     hold a number out of bounds, or go past the limits
   */
  public static Input read(byte[] body, InputLimits limits) throws Unreadable {
    String text =
        Utf8.decode(body).orElseThrow(() -> Unreadable.because("The body is not UTF-8 text."));
    if (text.isBlank()) {
      throw Unreadable.because("The body is empty. Send a JSON object of values, such as {}.");
    }
    try (JsonParser in = JSON.createParser(ObjectReadContext.empty(), text)) {
      return new JsonInput(in, limits).object();
    } catch (StreamConstraintsException e) {
      throw Unreadable.because(
          "The body holds a number of more than " + MAX_NUMBER + " characters.");
    } catch (StreamReadException e) {
      throw Unreadable.because("The body is not JSON: " + where(e.getLocation()) + ".");
    }
  }

  private Input object() throws Unreadable {
    if (in.nextToken() != JsonToken.START_OBJECT) {
      throw Unreadable.because("The body is not a JSON object of values, such as {}.");
    }
    Map<String, Raw> members = members();
    if (in.nextToken() != null) {
      throw Unreadable.because(
          "The body goes on after the JSON object, at " + place(in.currentTokenLocation()) + ".");
    }
    return new Input(members, Input.Encoding.JSON);
  }

  private Raw value() throws Unreadable {
    if (++values > limits.values()) {
      throw Unreadable.tooMany(limits.values());
    }
    return switch (in.currentToken()) {
      case VALUE_NULL -> new Raw.Null();
      case VALUE_TRUE -> new Raw.Bool(true);
      case VALUE_FALSE -> new Raw.Bool(false);
      case VALUE_STRING -> new Raw.Text(in.getString());
      case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> number(in.getString());
      case START_ARRAY -> items();
      case START_OBJECT -> new Raw.Members(members());
      default -> throw Unreadable.because("The body ends too early.");
    };
  }

  private Raw number(String text) throws Unreadable {
    int e = Math.max(text.indexOf('e'), text.indexOf('E'));
    if (e >= 0) {
      String exponent = text.substring(e + 1).replaceFirst("^[+-]?0*", "");
      if (exponent.length() > 2
          || !exponent.isEmpty() && Integer.parseInt(exponent) > Numbers.MAX_EXPONENT) {
        throw Unreadable.because(
            "The body holds a number with an exponent beyond ±"
                + Numbers.MAX_EXPONENT
                + ", at "
                + place(in.currentTokenLocation())
                + ".");
      }
    }
    return new Raw.Number(new BigDecimal(text));
  }

  private Raw items() throws Unreadable {
    descend();
    List<Raw> items = new ArrayList<>();
    while (in.nextToken() != JsonToken.END_ARRAY) {
      items.add(value());
    }
    depth--;
    return new Raw.Many(items);
  }

  private Map<String, Raw> members() throws Unreadable {
    descend();
    Map<String, Raw> members = new LinkedHashMap<>();
    while (in.nextToken() != JsonToken.END_OBJECT) {
      String name = in.currentName();
      TokenStreamLocation place = in.currentTokenLocation();
      in.nextToken();
      if (members.put(name, value()) != null) {
        throw Unreadable.because(
            "The name \""
                + Wellformed.of(name)
                + "\" stands twice, again at "
                + place(place)
                + ".");
      }
    }
    depth--;
    return members;
  }

  private void descend() throws Unreadable {
    if (++depth > limits.depth()) {
      throw Unreadable.because(
          "The body is nested deeper than " + limits.depth() + " objects and arrays.");
    }
  }

  private static String where(TokenStreamLocation location) {
    return location == null ? "it cannot be read" : "it goes wrong at " + place(location);
  }

  private static String place(TokenStreamLocation location) {
    return "line " + location.getLineNr() + ", column " + location.getColumnNr();
  }
}
