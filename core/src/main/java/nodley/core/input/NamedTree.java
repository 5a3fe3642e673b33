package nodley.core.input;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.MatchResult;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;

/**
 * Builds nested values from flat names: {@code contact.email}, {@code crew[0].name}. Indexes only
 * order rows, so gaps cost nothing. A name of another form is a name by itself.
 */
final class NamedTree {

  private static final Pattern STEP =
      Pattern.compile("([A-Za-z_][A-Za-z0-9_]*+)(?:\\[([0-9]{1,9})])?");

  /** What a name stands for so far: texts, members, or rows; only one of them is ever filled. */
  private final List<Raw> texts = new ArrayList<>();

  private final Map<String, NamedTree> members = new LinkedHashMap<>();
  private final TreeMap<Integer, NamedTree> rows = new TreeMap<>();

  /** Adds the values of one name. */
  void add(String name, List<String> values, InputLimits limits) throws Unreadable {
    NamedTree here = this;
    List<MatchResult> steps = steps(name, limits);
    if (steps.isEmpty()) {
      here = members.computeIfAbsent(name, _ -> new NamedTree());
    }
    for (MatchResult step : steps) {
      here = here.members.computeIfAbsent(step.group(1), _ -> new NamedTree());
      if (step.group(2) != null) {
        here = here.rows.computeIfAbsent(Integer.valueOf(step.group(2)), _ -> new NamedTree());
      }
    }
    for (String value : values) {
      here.texts.add(new Raw.Text(value));
    }
  }

  /** The steps of a name, of which no part is looked at twice; none if it is not written so. */
  private static List<MatchResult> steps(String name, InputLimits limits) throws Unreadable {
    List<MatchResult> steps = new ArrayList<>();
    Matcher step = STEP.matcher(name);
    int depth = 1;
    for (int at = 0; step.region(at, name.length()).lookingAt(); at = step.end() + 1) {
      if (++depth > limits.depth()) {
        throw Unreadable.because(
            "The body is nested deeper than " + limits.depth() + " objects and arrays.");
      }
      depth += step.group(2) == null ? 0 : 1;
      steps.add(step.toMatchResult());
      if (step.end() == name.length()) {
        return steps;
      }
      if (name.charAt(step.end()) != '.') {
        break;
      }
    }
    return List.of();
  }

  Map<String, Raw> toMembers() throws Unreadable {
    Map<String, Raw> raws = new LinkedHashMap<>();
    for (Map.Entry<String, NamedTree> entry : members.entrySet()) {
      raws.put(entry.getKey(), entry.getValue().toRaw(entry.getKey()));
    }
    return raws;
  }

  private Raw toRaw(String name) throws Unreadable {
    int sorts = (texts.isEmpty() ? 0 : 1) + (members.isEmpty() ? 0 : 1) + (rows.isEmpty() ? 0 : 1);
    if (sorts > 1) {
      throw Unreadable.because(
          "\""
              + Wellformed.of(name)
              + "\" is sent in two ways: it is a value, or has fields inside, or rows.");
    }
    if (!members.isEmpty()) {
      return new Raw.Members(toMembers());
    }
    if (!rows.isEmpty()) {
      List<Raw> items = new ArrayList<>();
      for (NamedTree row : rows.values()) {
        items.add(row.toRaw(name));
      }
      return new Raw.Many(items);
    }
    return texts.size() == 1 ? texts.getFirst() : new Raw.Many(texts);
  }
}
