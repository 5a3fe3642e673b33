package nodley.core.file;

import java.util.Optional;
import nodley.core.form.Drafting;

/** Reads {@code draft}: whether unfinished submissions are kept, how long, and for whom. */
final class DraftReader {

  private static final String OWN = "own";
  private static final String JOINT = "joint";

  private DraftReader() {}

  /** A form in steps keeps drafts in any case: without script, they have what was typed so far. */
  static Optional<Drafting> read(Section file) {
    if (!file.has("draft")) {
      return file.has("steps") ? Optional.of(Drafting.USUAL) : Optional.empty();
    }
    boolean isAlone =
        file.node("draft").orElse(null) instanceof Node.Scalar scalar
            && scalar.type() == Node.Scalar.ScalarType.NULL;
    if (isAlone) {
      return Optional.of(Drafting.USUAL);
    }
    return file.section("draft")
        .map(
            section -> {
              section.allow(FormKeys.DRAFT);
              return new Drafting(
                  RetentionReader.time(section, "keep").orElse(Drafting.USUAL.keepFor()),
                  section.word("who", OWN, JOINT).filter(JOINT::equals).isPresent());
            });
  }
}
