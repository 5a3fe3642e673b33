package nodley.core.form;

import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import nodley.core.text.Message;

/** A message for a person, and optionally a link that helps. */
public record Sentence(Message text, Optional<Link> link) {

  /**
   * A link behind the sentence.
   *
   * @param href an address with {@code {names}}, whose values are percent-encoded
   */
  public record Link(Message text, Template href) {}

  /** A sentence without a link. */
  public static Sentence of(Message text) {
    return new Sentence(text, Optional.empty());
  }

  /** What it names in braces, its link too. */
  public Set<String> names() {
    Set<String> names = new HashSet<>(text.names());
    link.ifPresent(
        it -> {
          names.addAll(it.text().names());
          names.addAll(it.href().names());
        });
    return names;
  }
}
