package nodley.core.form;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.expression.Expression;

/**
 * Options of a field. Immutable; equal if the choices are.
 *
 * @param choices in order; for a reference they are the records of another form, and none here
 * @param list the name of the list that they come from
 * @param where which of them are offered, by the option's own marks or fields and by other fields
 * @param source the rows of somebody else's table that they are; there are no choices here then
 * @param byValue the choices by their values, where there are many
 */
public record Options(
    List<Choice> choices,
    Optional<String> list,
    Optional<Expression> where,
    Optional<SourceOptions> source,
    Map<String, Choice> byValue) {

  /** No options. */
  public static final Options NONE = new Options(List.of(), Optional.empty(), Optional.empty());

  /** From this number on, options are found by a map; below, a scan is as fast. */
  private static final int FEW = 16;

  public Options {
    choices = List.copyOf(choices);
  }

  /**
   * Options in their order.
   *
   * @param list the name of the shared list that they come from
   */
  public Options(List<Choice> choices, Optional<String> list, Optional<Expression> where) {
    this(choices, list, where, Optional.empty(), byValue(choices));
  }

  /** Options that are rows of somebody else's table. */
  public static Options of(SourceOptions source, Optional<Expression> where) {
    return new Options(List.of(), Optional.empty(), where, Optional.of(source), Map.of());
  }

  private static Map<String, Choice> byValue(List<Choice> choices) {
    Map<String, Choice> byValue = new HashMap<>();
    if (choices.size() > FEW) {
      choices.forEach(choice -> byValue.putIfAbsent(choice.value(), choice));
    }
    return byValue;
  }

  /** Returns the option of a value; empty if there is none. */
  public Optional<Choice> find(String value) {
    if (choices.size() > FEW) {
      return Optional.ofNullable(byValue.get(value));
    }
    for (int i = 0; i < choices.size(); i++) {
      if (choices.get(i).value().equals(value)) {
        return Optional.of(choices.get(i));
      }
    }
    return Optional.empty();
  }

  /**
   * The choices whose label contains some words, or whose value they are, whatever their case;
   * those that begin with them first, else in order.
   *
   * @param words what is looked for; all fit if it is empty
   * @param offered which of them count
   * @param most how many are wanted
   */
  public List<Choice> search(String words, Predicate<Choice> offered, int most) {
    String part = words.strip().toLowerCase(Locale.ROOT);
    List<Choice> beginning = new ArrayList<>();
    List<Choice> containing = new ArrayList<>();
    for (Choice choice : choices) {
      boolean all = part.isEmpty() || choice.value().equalsIgnoreCase(part);
      int at = all ? 0 : choice.label().toLowerCase(Locale.ROOT).indexOf(part);
      List<Choice> fitting = at == 0 ? beginning : containing;
      if (at >= 0 && fitting.size() < most && offered.test(choice)) {
        fitting.add(choice);
        if (beginning.size() == most) {
          break;
        }
      }
    }
    beginning.addAll(containing.subList(0, Math.min(containing.size(), most - beginning.size())));
    return beginning;
  }
}
