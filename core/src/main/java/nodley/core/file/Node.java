package nodley.core.file;

import java.util.List;

/**
 * The syntax tree of a form file, with the line and column of each node. YAML and JSON are both
 * read into it, and whoever reads further does not know which it was. Immutable.
 */
sealed interface Node {

  /** Where it begins in the file. */
  Place place();

  /** What the part is, in words for an error. */
  String kind();

  /** Keys with their values, in the order of the file. */
  record Mapping(Place place, List<Entry> entries) implements Node {
    @Override
    public String kind() {
      return "a set of keys";
    }
  }

  /**
   * One key with its value.
   *
   * @param place of the key
   */
  record Entry(String key, Place place, Node value) {}

  /** A list. */
  record Sequence(Place place, List<Node> items) implements Node {
    @Override
    public String kind() {
      return "a list";
    }
  }

  /** A leaf; its text is as written, so that 1.10 stays 1.10. */
  record Scalar(Place place, String text, ScalarType type, Style style) implements Node {

    Scalar(Place place, String text, ScalarType type) {
      this(place, text, type, Style.PLAIN);
    }

    /** How it is written, by which a place inside it is found. */
    enum Style {
      PLAIN,
      QUOTED,
      BLOCK
    }

    /** The place of a character of the text; of the whole where that cannot be told. */
    Place at(int offset) {
      if (style == Style.BLOCK || text.indexOf('\n') >= 0) {
        return place;
      }
      return new Place(place.line(), place.column() + offset + (style == Style.QUOTED ? 1 : 0));
    }

    enum ScalarType {
      TEXT("text"),
      NUMBER("a number"),
      BOOLEAN("true or false"),
      NULL("nothing");

      private final String words;

      ScalarType(String words) {
        this.words = words;
      }
    }

    @Override
    public String kind() {
      return type.words;
    }
  }
}
