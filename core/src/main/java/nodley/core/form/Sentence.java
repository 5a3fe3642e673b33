package nodley.core.form;

import java.util.Optional;
import nodley.core.text.Message;

/** What a person is told, with a way out where there is one. */
public record Sentence(Message text, Optional<Link> link) {

  /**
   * A link behind the sentence.
   *
   * @param href an address with {@code {names}}, whose values are percent-encoded
   */
  public record Link(Message text, Template href) {}

  public static Sentence of(Message text) {
    return new Sentence(text, Optional.empty());
  }
}
