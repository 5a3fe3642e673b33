package nodley.core.file;

import java.util.List;

/** A form file as a tree that remembers where each part stands; YAML and JSON both become this. */
sealed interface Node {

  Place place();

  /** What the part is, in words for an error. */
  String kind();

  record Mapping(Place place, List<Entry> entries) implements Node {
    @Override
    public String kind() {
      return "a set of keys";
    }
  }

  record Entry(String key, Place place, Node value) {}

  record Sequence(Place place, List<Node> items) implements Node {
    @Override
    public String kind() {
      return "a list";
    }
  }

  /** A leaf; its text is as written, so that 1.10 stays 1.10. */
  record Scalar(Place place, String text, Sort sort) implements Node {

    enum Sort {
      TEXT("text"),
      NUMBER("a number"),
      BOOLEAN("true or false"),
      NULL("nothing");

      private final String words;

      Sort(String words) {
        this.words = words;
      }
    }

    @Override
    public String kind() {
      return sort.words;
    }
  }
}
