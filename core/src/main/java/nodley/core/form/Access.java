package nodley.core.form;

/** Which callers may add, see, edit and remove records of a form. */
public record Access(Who add, Who see, Who edit, Who remove) {

  /** Whom a permission is given to. */
  public enum Who {
    ANYONE("anyone"),
    SIGNED_IN("signed-in");

    private final String word;

    Who(String word) {
      this.word = word;
    }

    /** Returns the word for it in form files. */
    public String word() {
      return word;
    }
  }

  /** What a form file without {@code access} means. */
  public static final Access SIGNED_IN =
      new Access(Who.SIGNED_IN, Who.SIGNED_IN, Who.SIGNED_IN, Who.SIGNED_IN);
}
