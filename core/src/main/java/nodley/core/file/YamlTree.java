package nodley.core.file;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.common.Anchor;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.events.AliasEvent;
import org.snakeyaml.engine.v2.events.Event;
import org.snakeyaml.engine.v2.events.MappingStartEvent;
import org.snakeyaml.engine.v2.events.NodeEvent;
import org.snakeyaml.engine.v2.events.ScalarEvent;
import org.snakeyaml.engine.v2.events.SequenceStartEvent;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.Tag;
import org.snakeyaml.engine.v2.parser.Parser;
import org.snakeyaml.engine.v2.parser.ParserImpl;
import org.snakeyaml.engine.v2.resolver.CoreScalarResolver;
import org.snakeyaml.engine.v2.scanner.StreamReader;

/**
 * Reads YAML 1.2 (core schema) into {@link Node}s from parser events. Aliases are limited, so that
 * a small file cannot become a large tree.
 */
final class YamlTree {

  private static final int MAX_DEPTH = 32;
  private static final int MAX_NODES = 1_000_000;
  private static final int MAX_ESCAPES = 50;
  private static final LoadSettings SETTINGS =
      LoadSettings.builder().setUseMarks(true).setCodePointLimit(FormFile.MAX_BYTES).build();
  private static final CoreScalarResolver SCALARS = new CoreScalarResolver(false);

  private final Parser events;
  private final Map<Anchor, Anchored> anchors = new HashMap<>();
  private int depth;
  private int nodes;

  /** What an anchor stands for, and how many nodes each use of it adds. */
  private record Anchored(Node node, int size) {}

  private YamlTree(String text) {
    events = new ParserImpl(SETTINGS, new StreamReader(SETTINGS, text));
  }

  static Node read(String text) throws Unparsable {
    try {
      return new YamlTree(text).document();
    } catch (MarkedYamlEngineException e) {
      Place place = e.getProblemMark().map(YamlTree::place).orElse(new Place(1, 1));
      throw new Unparsable(place, "This is not YAML: " + e.getProblem() + ".");
    } catch (YamlEngineException e) {
      throw new Unparsable(new Place(1, 1), "This is not YAML: " + firstLine(e) + ".");
    }
  }

  /**
   * The same, going on where double quotes hold an escape that YAML does not have: that hides all
   * else that is wrong with a file. Each is told.
   */
  static Node read(String text, Errors errors) throws Unparsable {
    String read = text;
    for (int i = 0; i < MAX_ESCAPES; i++) {
      try {
        return new YamlTree(read).document();
      } catch (MarkedYamlEngineException e) {
        Mark mark = e.getProblemMark().orElse(null);
        if (mark == null || !e.getProblem().startsWith("found unknown escape character")) {
          return read(read);
        }
        int at = read.offsetByCodePoints(0, mark.getIndex());
        String escape = "\\" + Character.toString(read.codePointAt(at));
        Place place = place(mark);
        errors.add(
            new Place(place.line(), place.column() - 1),
            "#",
            "unreadable",
            "In double quotes YAML has no `"
                + escape
                + "`. Write the text in single quotes, where a backslash is only that.");
        read = read.substring(0, at) + "\\" + read.substring(at);
      } catch (YamlEngineException e) {
        return read(read);
      }
    }
    return read(read);
  }

  private Node document() throws Unparsable {
    events.next(); // stream start
    if (events.peekEvent().getEventId() == Event.ID.StreamEnd) {
      throw new Unparsable(new Place(1, 1), "The file is empty.");
    }
    events.next(); // document start
    Node node = node(events.next());
    events.next(); // document end
    Event end = events.peekEvent();
    if (end.getEventId() != Event.ID.StreamEnd) {
      throw new Unparsable(place(end), "A second document begins here; a file holds one.");
    }
    return node;
  }

  private Node node(Event event) throws Unparsable {
    if (++nodes > MAX_NODES) {
      throw new Unparsable(place(event), "The file has more than " + MAX_NODES + " parts.");
    }
    int before = nodes;
    Node node =
        switch (event) {
          case AliasEvent alias -> alias(alias);
          case ScalarEvent scalar -> scalar(scalar);
          case SequenceStartEvent start -> sequence(start);
          case MappingStartEvent start -> mapping(start);
          default -> throw new Unparsable(place(event), "This cannot be read.");
        };
    if (event instanceof NodeEvent named && !(event instanceof AliasEvent)) {
      int size = nodes - before + 1;
      named.getAnchor().ifPresent(anchor -> anchors.put(anchor, new Anchored(node, size)));
    }
    return node;
  }

  private Node alias(AliasEvent alias) throws Unparsable {
    Anchored anchored = anchors.get(alias.getAlias());
    if (anchored == null) {
      throw new Unparsable(
          place(alias), "Nothing is anchored as &" + alias.getAlias() + " before.");
    }
    nodes += anchored.size();
    if (nodes > MAX_NODES) {
      throw new Unparsable(place(alias), "The file has more than " + MAX_NODES + " parts.");
    }
    return anchored.node();
  }

  private Node scalar(ScalarEvent event) throws Unparsable {
    boolean plain = event.getScalarStyle() == ScalarStyle.PLAIN;
    Tag tag =
        event.getTag().isPresent() && !event.getTag().get().equals("!")
            ? new Tag(event.getTag().get())
            : SCALARS.resolve(event.getValue(), plain && event.getTag().isEmpty());
    Node.Scalar.ScalarType sort;
    if (tag.equals(Tag.STR)) {
      sort = Node.Scalar.ScalarType.TEXT;
    } else if (tag.equals(Tag.INT) || tag.equals(Tag.FLOAT)) {
      sort = Node.Scalar.ScalarType.NUMBER;
    } else if (tag.equals(Tag.BOOL)) {
      sort = Node.Scalar.ScalarType.BOOLEAN;
    } else if (tag.equals(Tag.NULL)) {
      sort = Node.Scalar.ScalarType.NULL;
    } else {
      throw new Unparsable(place(event), "The tag " + tag.getValue() + " has no meaning here.");
    }
    return new Node.Scalar(place(event), event.getValue(), sort, style(event.getScalarStyle()));
  }

  private static Node.Scalar.Style style(ScalarStyle style) {
    return switch (style) {
      case PLAIN, JSON_SCALAR_STYLE -> Node.Scalar.Style.PLAIN;
      case SINGLE_QUOTED, DOUBLE_QUOTED -> Node.Scalar.Style.QUOTED;
      case LITERAL, FOLDED -> Node.Scalar.Style.BLOCK;
    };
  }

  private Node sequence(Event start) throws Unparsable {
    descend(start);
    List<Node> items = new ArrayList<>();
    for (Event event = events.next();
        event.getEventId() != Event.ID.SequenceEnd;
        event = events.next()) {
      items.add(node(event));
    }
    depth--;
    return new Node.Sequence(place(start), items);
  }

  private Node mapping(Event start) throws Unparsable {
    descend(start);
    List<Node.Entry> entries = new ArrayList<>();
    for (Event event = events.next();
        event.getEventId() != Event.ID.MappingEnd;
        event = events.next()) {
      if (!(event instanceof ScalarEvent key)) {
        throw new Unparsable(place(event), "A key is plain text.");
      }
      node(key);
      entries.add(new Node.Entry(key.getValue(), place(key), node(events.next())));
    }
    depth--;
    return new Node.Mapping(place(start), entries);
  }

  private void descend(Event event) throws Unparsable {
    if (++depth > MAX_DEPTH) {
      throw new Unparsable(place(event), "The file is nested deeper than " + MAX_DEPTH + ".");
    }
  }

  private static Place place(Event event) {
    return event.getStartMark().map(YamlTree::place).orElse(new Place(1, 1));
  }

  private static Place place(Mark mark) {
    return new Place(mark.getLine() + 1, mark.getColumn() + 1);
  }

  private static String firstLine(Exception e) {
    return Optional.ofNullable(e.getMessage())
        .orElse("it cannot be read")
        .lines()
        .findFirst()
        .get();
  }
}
