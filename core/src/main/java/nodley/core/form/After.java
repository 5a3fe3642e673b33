package nodley.core.form;

import java.util.List;

/**
 * What follows an acceptance.
 *
 * @param go {@code list}, {@code record}, {@code stay}, or an address: a path or http(s)
 * @param say the outcome, told on the next page
 * @param stays the fields that keep what was typed, where a page stays open to add one more
 */
public record After(String go, Template say, List<String> stays) {
  public After {
    stays = List.copyOf(stays);
  }
}
