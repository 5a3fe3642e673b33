package nodley.store.common;

import java.util.List;
import java.util.Map;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;

/**
 * Reasons why the store rejects a call. Unchecked, since few callers can do anything about most of
 * them; each subclass says what its caller can do, and the service has one answer for each.
 */
public abstract sealed class StoreException extends RuntimeException {

  private static final long serialVersionUID = 1;

  private StoreException(String message, Throwable cause) {
    super(message, cause);
  }

  /** The form has no such record, or has it no longer. */
  public static final class NoSuchRecord extends StoreException {
    private static final long serialVersionUID = 1;

    public NoSuchRecord(String id) {
      super("There is no record " + id + ".", null);
    }
  }

  /** Somebody changed the record since; nothing was written. */
  public static final class Outdated extends StoreException {
    private static final long serialVersionUID = 1;
    private final transient StoredRecord current;

    public Outdated(StoredRecord current) {
      super("The record is at version " + current.version() + " by now.", null);
      this.current = current;
    }

    /** The record as it is now. */
    public StoredRecord current() {
      return current;
    }
  }

  /** Other records refer to the one that was to be removed. */
  public static final class StillReferred extends StoreException {
    private static final long serialVersionUID = 1;
    private final transient List<Referrer> referrers;

    public StillReferred(List<Referrer> referrers) {
      super("Other records refer to it.", null);
      this.referrers = referrers;
    }

    /** Some of them, at most 50. */
    public List<Referrer> referrers() {
      return referrers;
    }
  }

  /** What may be in the way of putting a removed record back. */
  public enum InTheWay {
    /** Other records have what is unique in it. */
    TAKEN,
    /** Records that it refers to are gone. */
    MISSING,
    /** The form, or each person, has one record only, and there is another one. */
    ANOTHER_RECORD,
    /** The form has changed so much that its values have no place. */
    FORM
  }

  /** A removed record cannot be put back as it was. */
  public static final class CannotPutBack extends StoreException {
    private static final long serialVersionUID = 1;
    private final InTheWay what;
    private final transient List<String> fields;

    public CannotPutBack(InTheWay what, List<String> fields) {
      super("The record cannot be put back.", null);
      this.what = what;
      this.fields = List.copyOf(fields);
    }

    /** Returns what is in the way. */
    public InTheWay what() {
      return what;
    }

    /** The fields that it is about, as dotted paths; none if no field is to blame. */
    public List<String> fields() {
      return fields;
    }
  }

  /** A record that refers to another. */
  public record Referrer(String form, String field, String id) {}

  /** The submission was accepted before. */
  public static final class AlreadyAnswered extends StoreException {
    private static final long serialVersionUID = 1;
    private final String answer;

    public AlreadyAnswered(String answer) {
      super("The submission was accepted before.", null);
      this.answer = answer;
    }

    /** What was told then. */
    public String answer() {
      return answer;
    }
  }

  /** An idempotency key stands for another submission already. */
  public static final class KeyReused extends StoreException {
    private static final long serialVersionUID = 1;

    public KeyReused(String key) {
      super(
          "Idempotency-Key "
              + key
              + " was accepted with another body. Take a new key for another submission.",
          null);
    }
  }

  /** A new revision was published while the submission was on its way; judge it again. */
  public static final class FormChanged extends StoreException {
    private static final long serialVersionUID = 1;

    public FormChanged() {
      super("The form has been published anew at this moment.", null);
    }
  }

  /** Kept records do not fit the revision that was to be published; nothing was changed. */
  public static final class MigrationConflict extends StoreException {
    private static final long serialVersionUID = 1;
    private final transient List<Objection> objections;
    private final boolean forceable;

    public MigrationConflict(List<Objection> objections, boolean forceable) {
      super("Stored records conflict with the form file.", null);
      this.objections = objections;
      this.forceable = forceable;
    }

    /** Returns all conflicts, in the order of the forms. */
    public List<Objection> objections() {
      return objections;
    }

    /** Returns true if records only violate new rules, which can be published with force. */
    public boolean isForceable() {
      return forceable;
    }
  }

  /** A field that was to be forgotten is one that the form has. */
  public static final class StillThere extends StoreException {
    private static final long serialVersionUID = 1;

    public StillThere(String form, String field) {
      super(
          "Form " + form + " has a field `" + field + "`; only what it has no longer is forgotten.",
          null);
    }
  }

  /** Some of the files that were to be published together have errors; nothing was changed. */
  public static final class BadFiles extends StoreException {
    private static final long serialVersionUID = 1;
    private final transient Map<String, List<FormFileError>> errors;

    public BadFiles(Map<String, List<FormFileError>> errors) {
      super("Files have errors: " + errors, null);
      this.errors = errors;
    }

    /** What is wrong, by the names of the files. */
    public Map<String, List<FormFileError>> errors() {
      return errors;
    }
  }

  /** Forms could not be read any more if it were published; nothing was changed. */
  public static final class Breaks extends StoreException {
    private static final long serialVersionUID = 1;
    private final transient Map<String, List<String>> forms;

    public Breaks(Map<String, List<String>> forms) {
      super("Forms use it: " + forms, null);
      this.forms = forms;
    }

    /** What would be wrong in each of the forms. */
    public Map<String, List<String>> forms() {
      return forms;
    }
  }

  /** The form was to be removed, but has records. */
  public static final class HasRecords extends StoreException {
    private static final long serialVersionUID = 1;

    public HasRecords(String form, long records) {
      super(
          "Form "
              + form
              + " has "
              + records
              + (records == 1 ? " record" : " records")
              + "; ?records=drop removes them with it.",
          null);
    }
  }

  /** Texts are of a form that is not there. */
  public static final class NoForm extends StoreException {
    private static final long serialVersionUID = 1;

    public NoForm(String form) {
      super("There is no form `" + form + "`; publish it first.", null);
    }
  }

  /**
   * Why stored records conflict with a revision.
   *
   * @param field its dotted path; empty if it is a rule over several that stands nowhere
   * @param records the ids of at most 50 of them
   * @param count how many values, or records, there are
   */
  public record Objection(
      String form, String field, String detail, List<String> records, long count) {

    /** One line: where, what, and how many. */
    @Override
    public String toString() {
      String where = field.isEmpty() ? form : form + "." + field;
      String how = count == 0 ? "" : " (" + count + (count == 1 ? " record)." : " records).");
      return where + ": " + detail + how;
    }
  }

  /** The queue is full; try again shortly. */
  public static final class Busy extends StoreException {
    private static final long serialVersionUID = 1;

    public Busy() {
      super("The store has more to write than it can take at once.", null);
    }
  }

  /** A read is not done in the time that it may take. */
  public static final class TookTooLong extends StoreException {
    private static final long serialVersionUID = 1;

    public TookTooLong() {
      super(
          "This takes longer to read than it may. Ask for less: by a condition on a unique field,"
              + " fewer words, no order, or a smaller limit.",
          null);
    }
  }

  /** Somebody has published the form, or what forms share, since its author looked at it. */
  public static final class Republished extends StoreException {
    private static final long serialVersionUID = 1;

    /**
     * With what there is by now.
     *
     * @param what such as {@code revision 3}
     */
    public Republished(String what) {
      super(
          "Its "
              + what
              + " was published meanwhile. Look at what differs, then publish again over that.",
          null);
    }
  }

  /** The disk is full, the file cannot be written, or the store is closing. */
  public static sealed class Unavailable extends StoreException {
    private static final long serialVersionUID = 1;

    public Unavailable(String message, Throwable cause) {
      super(message, cause);
    }
  }

  /** The text of a form has errors, in what there is now. */
  public static final class Unreadable extends Unavailable {
    private static final long serialVersionUID = 1;
    private final String form;
    private final transient List<FormFileError> errors;

    public Unreadable(String form, FormFileException e) {
      super("Form " + form + " cannot be read by this Nodley:\n" + e.getMessage(), e);
      this.form = form;
      this.errors = e.errors();
    }

    /** Returns the name of the form. */
    public String form() {
      return form;
    }

    /** Returns what is wrong in its text. */
    public List<FormFileError> errors() {
      return errors;
    }
  }

  /** The data folder cannot be used; told at start. */
  public static final class BadFolder extends StoreException {
    private static final long serialVersionUID = 1;

    public BadFolder(String message, Throwable cause) {
      super(message, cause);
    }
  }
}
