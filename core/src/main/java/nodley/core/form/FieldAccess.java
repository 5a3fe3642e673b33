package nodley.core.form;

import java.util.Optional;

/**
 * Who may see and edit a field, beyond what the form's {@link Access} says of its records.
 *
 * @param see whom it is shown to; empty for everybody who may see the record
 * @param edit who may change it; empty for everybody who may edit the record
 * @param hidden true in the form as a caller has it who may not see the field: to that caller it is
 *     as if there were none of this name
 */
public record FieldAccess(Optional<Access.Who> see, Optional<Access.Who> edit, boolean hidden) {

  /** Everybody may see and edit it. */
  public static final FieldAccess ALL = new FieldAccess(Optional.empty(), Optional.empty(), false);

  /** True if it is shown to some callers only. */
  public boolean isForSome() {
    return see.isPresent();
  }
}
