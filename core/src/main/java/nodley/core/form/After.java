package nodley.core.form;

import java.util.List;

/**
 * What a page does after an accepted submission.
 *
 * @param go `list`, `record`, `stay`, or an address: a path or http(s), which may name fields, and
 *     {@code {id}} for the record's
 * @param say what the next page says of the outcome
 * @param clears the fields in which what was typed goes, where a page stays open to add one more
 */
public record After(Template go, Template say, List<String> clears) {

  /** In an address, stands for the id of the record. */
  public static final String ID = "id";

  public After {
    clears = List.copyOf(clears);
  }

  /** Whether the page stays open. */
  public boolean isStaying() {
    return go.text().equals("stay");
  }
}
