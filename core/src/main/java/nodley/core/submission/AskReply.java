package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Raw;

/**
 * What a service outside said to one question. It is untrusted: what it proposes for a field is
 * read, tidied and judged as if a person had typed it.
 */
public sealed interface AskReply {

  /**
   * One thing that it has against the submission.
   *
   * @param pointer of the value, as in a verdict; empty if it says none
   * @param code its own word for it; empty if it has none
   * @param detail a sentence for whoever typed; empty if it has none
   */
  record Objection(Optional<String> pointer, Optional<String> code, Optional<String> detail) {}

  /**
   * It answered.
   *
   * @param fill values that it proposes, by the dotted paths of fields
   */
  record Answered(List<Objection> objections, Map<String, Raw> fill) implements AskReply {

    /** It has nothing against the submission, and proposes nothing. */
    public static final Answered FINE = new Answered(List.of(), Map.of());

    public Answered {
      objections = List.copyOf(objections);
      fill = new LinkedHashMap<>(fill);
    }
  }

  /**
   * It did not answer in time, or not in a way that can be understood.
   *
   * @param isRefused true if a submission is then refused
   */
  record Unanswered(boolean isRefused) implements AskReply {}
}
