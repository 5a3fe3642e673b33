package nodley.core.form;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import nodley.core.text.Notation;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Formats values for display: numbers and dates in a notation, options by their labels, and
 * references by what the record they point at is called. Immutable and thread-safe if its {@link
 * Records} are.
 *
 * <p>Formatting reads other records, at most four deep; one that is not found, or that the caller
 * may not see, is displayed by its id.
 */
public final class Display {

  /** A record may be called by another record, but not without end. */
  private static final int MAX_DEPTH = 4;

  /** Finds records of other forms, as far as the caller may see them. */
  public interface Records {
    Optional<Found> find(String form, String id);

    /** Finds what people read of an option that is a row of somebody else's table. */
    default Optional<String> label(SourceOptions options, String value) {
      return Optional.empty();
    }
  }

  /** A record of a form. */
  public record Found(Form form, Values values) {}

  /** No record can be found: their ids stand for them. */
  public static final Display ALONE = with((_, _) -> Optional.empty());

  private final Records records;
  private final Notation notation;
  private final int depth;

  private Display(Records records, Notation notation, int depth) {
    this.records = records;
    this.notation = notation;
    this.depth = depth;
  }

  /** Displays references by the names of their records. */
  public static Display with(Records records) {
    return new Display(records, Notation.STANDARD, 0);
  }

  /** The same with numbers and dates in a language's way. */
  public Display in(Notation notation) {
    return new Display(records, notation, depth);
  }

  private Display deeper() {
    return new Display(records, notation, depth + 1);
  }

  /** Fills a template with display texts of a record's fields. */
  public String fill(Template template, Form form, Values values) {
    return template.fill(path -> at(form, values, Arrays.asList(path.split("\\."))));
  }

  private String at(Form form, Values values, List<String> path) {
    Fields fields = form.fields();
    Values here = values;
    for (int i = 0; i < path.size(); i++) {
      Field field = fields.find(path.get(i)).orElse(null);
      if (field == null) {
        return "";
      }
      Value value = here.get(field.name());
      boolean last = i == path.size() - 1;
      if (last) {
        return of(field, value);
      }
      if (field.refersTo().isPresent()) {
        List<String> rest = path.subList(i + 1, path.size());
        return find(field, value)
            .map(found -> deeper().at(found.form(), found.values(), rest))
            .orElse("");
      }
      here = value instanceof Value.Group(Values inside) ? inside : Values.NONE;
      fields = field.fields();
    }
    return "";
  }

  /** The text for one value; a record is called as its form calls it. */
  public String of(Field field, Value value) {
    if (field.options().source().isPresent() && !value.isBlank()) {
      return records.label(field.options().source().get(), value.shown()).orElse(value.shown());
    }
    if (field.refersTo().isEmpty() || value.isBlank()) {
      return field.display(value, notation);
    }
    return find(field, value)
        .map(found -> found.form().called(found.values(), deeper()))
        .orElse(value.shown());
  }

  private Optional<Found> find(Field field, Value value) {
    return depth < MAX_DEPTH && value instanceof Value.Text(String id)
        ? field.refersTo().flatMap(form -> records.find(form, id))
        : Optional.empty();
  }
}
