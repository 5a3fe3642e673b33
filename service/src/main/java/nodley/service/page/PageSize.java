package nodley.service.page;

import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;
import nodley.core.value.Raw;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import org.springframework.stereotype.Component;

/** Limits how many rows of what was sent are rendered again, and the size of a page. */
@Component
final class PageSize {

  private final int mostRows;

  PageSize(Limits limits) {
    this.mostRows = limits.page().rows();
  }

  /**
   * Passes what a page can hold.
   *
   * @throws Problem 413 if there are more rows than a form takes, or than a page draws
   */
  void pass(Fields fields, Map<String, Raw> sent) {
    for (Field field : fields) {
      Raw raw = sent.get(field.name());
      if (raw instanceof Raw.Members(Map<String, Raw> members) && field.type() == Type.GROUP) {
        pass(field.fields(), members);
      } else if (raw instanceof Raw.Many(List<Raw> rows) && field.type() == Type.ROWS) {
        pass(field, rows);
      }
    }
  }

  private void pass(Field field, List<Raw> rows) {
    int max = Math.min(mostRows, field.limits().count().max().orElse(mostRows));
    // Blank rows are passed over, so a page may have some more than are kept.
    if (rows.size() > max + Math.max(1, mostRows / 10)) {
      throw Problem.of(
          413,
          "too-large",
          "There are too many rows",
          "\"%s\" takes up to %d rows on a page; %d were sent."
              .formatted(field.label(), max, rows.size()));
    }
    for (Raw row : rows) {
      if (row instanceof Raw.Members(Map<String, Raw> members)) {
        pass(field.fields(), members);
      }
    }
  }
}
