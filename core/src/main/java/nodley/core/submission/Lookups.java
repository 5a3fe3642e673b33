package nodley.core.submission;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Choice;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.SourceColumn;
import nodley.core.form.SourceOptions;
import nodley.core.value.FileRef;
import nodley.core.value.Value;

/**
 * Port to what only a store, or services outside, know. Called on the submission's thread, in any
 * stage after binding (expressions read through records); may block. An unavailable lookup is a
 * return value: the field is reported as open, not rejected. An exception ends the submission and
 * reaches its caller.
 */
public interface Lookups {

  /** Every lookup is unavailable. */
  Lookups NONE =
      new Lookups() {
        @Override
        public Optional<Set<Integer>> taken(
            Form form, List<UniqueKey> keys, Optional<String> except) {
          return Optional.empty();
        }

        @Override
        public Optional<Optional<Display.Found>> record(String form, String id) {
          return Optional.empty();
        }
      };

  /**
   * Returns the indexes of the keys that another record has. Called once for all keys of a
   * submission, and once more for each taken value that has {@code alternatives}.
   *
   * @param except id of the edited record, whose own values do not count
   * @return indexes in the list, from 0; empty if the lookup is unavailable
   */
  Optional<Set<Integer>> taken(Form form, List<UniqueKey> keys, Optional<String> except);

  /** Returns the indexes of the keys that somebody else's open page holds. */
  default Set<Integer> held(Form form, List<UniqueKey> keys) {
    return Set.of();
  }

  /**
   * A file that a submission refers to. One without a digest is there to be judged only: it came
   * with the submission, and was not kept.
   *
   * @param endings what names of files of its type usually end in, in small letters: {@code .jpg}
   */
  record FoundFile(FileRef file, Set<String> endings, boolean harmful) {

    /** A file that does no harm, as far as is known. */
    public FoundFile(FileRef file, Set<String> endings) {
      this(file, endings, false);
    }
  }

  /**
   * Finds a file: a complete upload that the caller made for the field and nothing has taken over
   * yet, or one that the edited record has or had. The inner Optional is empty if there is none;
   * the outer one if the lookup is unavailable.
   *
   * @param field dotted path of the field
   * @param record id of the edited record; empty on add
   */
  default Optional<Optional<FoundFile>> file(
      Form form, String field, FileRef file, Optional<String> record) {
    return Optional.empty();
  }

  /** Whether somebody else's table has a value. */
  enum Presence {
    PRESENT,
    ABSENT,
    /** The database did not answer. */
    UNKNOWN
  }

  /** Returns whether a column of somebody else's table has a value. */
  default Presence inSource(SourceColumn column, Value value, boolean ignoreCase) {
    return Presence.UNKNOWN;
  }

  /**
   * Finds an option that is a row of somebody else's table, with what {@code where} reads as its
   * marks. The inner Optional is empty if there is none; the outer one if the database did not
   * answer.
   */
  default Optional<Optional<Choice>> option(SourceOptions options, String value) {
    return Optional.empty();
  }

  /**
   * Is told, on a submission, that a database did not answer.
   *
   * @throws RuntimeException of the implementation's, if the submission cannot be accepted then
   */
  default void unanswered(String source) {
    // What nobody knows is accepted.
  }

  /**
   * Asks services outside, all at the same time; called at most twice for a submission.
   *
   * @return one reply for each question, in their order
   */
  default List<AskReply> ask(Form form, Context context, List<AskQuestion> questions) {
    return questions.stream().<AskReply>map(_ -> new AskReply.Unanswered(false)).toList();
  }

  /**
   * Finds a record of another form. The inner Optional is empty if the record is missing, or if the
   * caller may not see it, so that its existence is not disclosed; the outer one if the lookup is
   * unavailable.
   */
  Optional<Optional<Display.Found>> record(String form, String id);
}
