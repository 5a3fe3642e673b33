package nodley.service.page;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.name.FieldName;
import nodley.core.value.Raw;
import nodley.core.value.Wellformed;
import nodley.service.problem.Problem;

/**
 * A button of a page without script that adds, removes or moves a row, or refreshes options: the
 * page is rendered again with what was typed.
 *
 * @param input what was typed, without the row that is to go
 * @param rows the name of the rows, such as {@code crew} or {@code crew[0].papers}
 * @param shown how many of them the page is to show
 */
record ButtonPress(Input input, String rows, int shown) {

  /** The name of the buttons that add a row; their value names the rows. */
  static final String MORE = "_more";

  /** The name of the buttons that remove one; their value names the row: {@code crew[1]}. */
  static final String LESS = "_less";

  /** The name of the buttons that move one up; their value names the row. */
  static final String UP = "_up";

  /** The name of the buttons that have options worked out anew. */
  static final String AGAIN = "_again";

  private static final Pattern STEP =
      Pattern.compile("(" + FieldName.PATTERN + ")|\\[(?<row>[0-9]{1,9})]");
  private static final Pattern ROW = Pattern.compile("(.*)\\[([0-9]{1,9})]");

  /**
   * What was pressed, if it was such a button.
   *
   * @throws Problem 400 if it names no rows of the form
   */
  static Optional<ButtonPress> of(Form form, Input input) {
    Optional<String> more = input.get(MORE).map(Raw::shown);
    if (more.isPresent()) {
      return Optional.of(press(form, input, MORE, more.get(), -1));
    }
    if (input.get(AGAIN).isPresent()) {
      return Optional.of(new ButtonPress(input, "", 0));
    }
    return Stream.of(LESS, UP)
        .flatMap(
            button ->
                input.get(button).map(Raw::shown).map(it -> row(form, input, button, it)).stream())
        .findFirst();
  }

  private static ButtonPress row(Form form, Input input, String button, String name) {
    Matcher row = ROW.matcher(name);
    int index = row.matches() ? Integer.parseInt(row.group(2)) : -1;
    return press(form, input, button, index < 0 ? "" : row.group(1), index);
  }

  private static ButtonPress press(Form form, Input input, String button, String rows, int index) {
    List<String> path = new ArrayList<>();
    List<Object> steps = new ArrayList<>();
    Matcher step = STEP.matcher(rows);
    while (step.find()) {
      if (step.group(1) != null) {
        path.add(step.group(1));
      }
      steps.add(step.group(1) == null ? Integer.valueOf(step.group("row")) : step.group(1));
    }
    boolean known =
        !path.isEmpty()
            && form.fields().find(path).filter(it -> it.type() == Type.ROWS).isPresent();
    if (!known) {
      throw Problem.of(
          400,
          "unreadable",
          "The body cannot be read",
          "\""
              + button
              + "\" names \""
              + Wellformed.of(rows)
              + "\", which are no rows of the form.");
    }
    int[] shown = {0};
    Raw changed =
        change(
            new Raw.Members(input.members()),
            steps,
            items -> {
              List<Raw> left = new ArrayList<>(items);
              boolean there = index >= 0 && index < left.size();
              if (there && button.equals(LESS)) {
                left.remove(index);
              } else if (there && index > 0) {
                Collections.swap(left, index - 1, index);
              }
              shown[0] = button.equals(MORE) ? left.size() + 1 : left.size();
              return left;
            });
    Map<String, Raw> members = ((Raw.Members) changed).members();
    return new ButtonPress(new Input(members, input.encoding()), rows, shown[0]);
  }

  /** A copy with other rows at the end of a way. */
  private static Raw change(Raw here, List<Object> way, UnaryOperator<List<Raw>> rows) {
    List<Raw> items = here instanceof Raw.Many(List<Raw> many) ? many : List.of();
    if (way.isEmpty()) {
      return new Raw.Many(rows.apply(items));
    }
    List<Object> rest = way.subList(1, way.size());
    if (way.getFirst() instanceof Integer index) {
      List<Raw> copy = new ArrayList<>(items);
      if (index < copy.size()) {
        copy.set(index, change(copy.get(index), rest, rows));
      }
      return new Raw.Many(copy);
    }
    Map<String, Raw> copy =
        here instanceof Raw.Members(Map<String, Raw> members)
            ? new LinkedHashMap<>(members)
            : new LinkedHashMap<>();
    String name = way.getFirst().toString();
    copy.put(name, change(copy.getOrDefault(name, new Raw.Null()), rest, rows));
    return new Raw.Members(copy);
  }
}
