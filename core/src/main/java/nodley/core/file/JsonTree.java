package nodley.core.file;

import java.util.ArrayList;
import java.util.List;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.core.json.JsonFactory;

/**
 * Parses JSON (RFC 8259) into {@link Node}s, each with its line and column, so that errors in form
 * files written in JSON have a place as those in YAML do. Stops at the first error of syntax.
 * Nested up to 32 deep.
 */
final class JsonTree {

  private static final int MAX_DEPTH = 32;
  private static final JsonFactory JSON = JsonFactory.builder().build();

  private final JsonParser in;
  private int depth;

  private JsonTree(JsonParser in) {
    this.in = in;
  }

  static Node read(String text) throws Unparsable {
    try (JsonParser in = JSON.createParser(ObjectReadContext.empty(), text)) {
      if (in.nextToken() == null) {
        throw new Unparsable(new Place(1, 1), "The file is empty.");
      }
      Node node = new JsonTree(in).node();
      if (in.nextToken() != null) {
        throw new Unparsable(place(in), "The file goes on after the end of its JSON.");
      }
      return node;
    } catch (JacksonException e) {
      TokenStreamLocation at = e.getLocation();
      Place place =
          at == null
              ? new Place(1, 1)
              : new Place(Math.max(1, at.getLineNr()), Math.max(1, at.getColumnNr()));
      throw new Unparsable(place, "This is not JSON: " + reason(e) + ".");
    }
  }

  private Node node() throws Unparsable {
    Place place = place(in);
    return switch (in.currentToken()) {
      case VALUE_STRING ->
          new Node.Scalar(
              place, in.getString(), Node.Scalar.ScalarType.TEXT, Node.Scalar.Style.QUOTED);
      case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT ->
          new Node.Scalar(place, in.getString(), Node.Scalar.ScalarType.NUMBER);
      case VALUE_TRUE, VALUE_FALSE ->
          new Node.Scalar(place, in.getString(), Node.Scalar.ScalarType.BOOLEAN);
      case VALUE_NULL -> new Node.Scalar(place, "", Node.Scalar.ScalarType.NULL);
      case START_ARRAY -> sequence(place);
      case START_OBJECT -> mapping(place);
      default -> throw new Unparsable(place, "This is not JSON.");
    };
  }

  private Node sequence(Place place) throws Unparsable {
    descend(place);
    List<Node> items = new ArrayList<>();
    while (in.nextToken() != JsonToken.END_ARRAY) {
      items.add(node());
    }
    depth--;
    return new Node.Sequence(place, items);
  }

  private Node mapping(Place place) throws Unparsable {
    descend(place);
    List<Node.Entry> entries = new ArrayList<>();
    while (in.nextToken() != JsonToken.END_OBJECT) {
      String key = in.currentName();
      Place keyPlace = place(in);
      in.nextToken();
      entries.add(new Node.Entry(key, keyPlace, node()));
    }
    depth--;
    return new Node.Mapping(place, entries);
  }

  private void descend(Place place) throws Unparsable {
    if (++depth > MAX_DEPTH) {
      throw new Unparsable(place, "The file is nested deeper than " + MAX_DEPTH + ".");
    }
  }

  private static Place place(JsonParser in) {
    TokenStreamLocation at = in.currentTokenLocation();
    return new Place(at.getLineNr(), at.getColumnNr());
  }

  /** What the parser says, without what it says of itself. */
  private static String reason(JacksonException e) {
    return e.getOriginalMessage()
        .lines()
        .findFirst()
        .orElse("")
        .replaceAll(" *\\([^)]*Source:.*", "");
  }
}
