package nodley.core.form;

import java.util.Optional;
import nodley.core.pattern.IRegexp;

/**
 * How texts are brought into their standard form before validation.
 *
 * @param keep a class such as {@code A-Za-z0-9}: only these characters stay
 * @param scheme puts https:// before a bare host
 */
public record Tidying(
    boolean trim,
    boolean squeeze,
    Case letters,
    boolean scheme,
    boolean multiline,
    Optional<Keep> keep) {

  /** What becomes of capital and small letters. */
  public enum Case {
    AS_TYPED,
    LOWER,
    UPPER
  }

  /** The characters that stay: as written in the form file, and as a pattern for one of them. */
  public record Keep(String characters, IRegexp one) {}

  public static final Tidying TRIM =
      new Tidying(true, false, Case.AS_TYPED, false, false, Optional.empty());

  /** Secrets stay as they are typed. */
  public static final Tidying NOTHING =
      new Tidying(false, false, Case.AS_TYPED, false, false, Optional.empty());
}
