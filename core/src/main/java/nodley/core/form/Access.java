package nodley.core.form;

import java.util.Collection;
import java.util.List;
import java.util.regex.Pattern;

/**
 * Which callers may add, see, edit and remove records of a form, as its file says. Immutable.
 *
 * <p>This says what is permitted, and not who calls: the service's {@code Authorization} compares
 * it with a caller. A right that the file leaves out is given to everybody who is signed in.
 */
public record Access(Who add, Who see, Who edit, Who remove) {

  /** The names that a role may have. */
  public static final Pattern ROLE = Pattern.compile("[a-z][a-z0-9-]{0,39}");

  /**
   * Whom a permission is given to.
   *
   * @param words as in form files: {@code anyone}, {@code signed-in}, {@code owner}, or names of
   *     roles; none where it is given to nobody
   */
  public record Who(List<String> words) {

    /** The word for every caller, known or not. */
    public static final String ANYBODY = "anyone";

    /** The word for every person and program that is known. */
    public static final String KNOWN = "signed-in";

    /** The word for the person who added a record. */
    public static final String OWNER = "owner";

    /** The words that no role may have as its name. */
    public static final List<String> RESERVED = List.of(ANYBODY, KNOWN, OWNER);

    /** Every caller. */
    public static final Who ANYONE = new Who(List.of(ANYBODY));

    /** Every caller that is known. */
    public static final Who SIGNED_IN = new Who(List.of(KNOWN));

    /** No caller but admins. */
    public static final Who NOBODY = new Who(List.of());

    /** The person who owns a record. */
    public static final Who OWNERS = new Who(List.of(OWNER));

    public Who {
      words = List.copyOf(words);
    }

    /** True if it is given to callers that nobody knows. */
    public boolean isAnyone() {
      return words.contains(ANYBODY);
    }

    /** True if it is given to the person who owns a record, for that record. */
    public boolean isOwner() {
      return words.contains(OWNER);
    }

    /** True if it is given to a known caller with these roles. */
    public boolean isGivenTo(Collection<String> roles) {
      return isAnyone() || words.contains(KNOWN) || words.stream().anyMatch(roles::contains);
    }

    /** Returns the one word, or the list of words. */
    public Object toJson() {
      return words.size() == 1 ? words.getFirst() : words;
    }
  }

  /** True if one of the rights is given to owners of records. */
  public boolean hasOwners() {
    return add.isOwner() || see.isOwner() || edit.isOwner() || remove.isOwner();
  }

  /** What a form file without {@code access} means. */
  public static final Access SIGNED_IN =
      new Access(Who.SIGNED_IN, Who.SIGNED_IN, Who.SIGNED_IN, Who.SIGNED_IN);
}
