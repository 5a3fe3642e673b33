package nodley.service.access;

import nodley.core.form.Access;
import nodley.core.form.Form;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;

/**
 * What a call needs: either of the caller alone, or of the caller with the form that the call names
 * in its path or as {@code form} in its query.
 */
public enum Right {
  /** Nothing. */
  NOTHING(false, ""),

  /**
   * Nothing; but a token that is not good, or a session that another site's page sent, is refused,
   * and not taken for a stranger's request.
   */
  NO_INVALID_TOKEN(false, ""),

  /** A request from a page of this service: no other site signs a person in or out. */
  SAME_ORIGIN(false, ""),

  /** A known caller: their own sessions. */
  SIGNED_IN(false, ""),

  /** The role author: form files, what they share, texts, attempts; of the form that is named. */
  AUTHOR(false, ""),

  /** Removing a form: the role author; with its records, the role admin. */
  REMOVE_FORM(false, ""),

  /** The role operator: backups, the operator's log. */
  OPERATOR(false, ""),

  /** The role admin: keys, and what cannot be taken back. */
  ADMIN(false, ""),

  /** Making passes: a program with the role vouch. */
  VOUCH(false, ""),

  /** Reading records, as a program that shows its key itself, which no page does. */
  PROGRAM(true, ""),

  /** Made-up records: adding, or the role author. */
  SAMPLE(true, ""),

  /** Adding records; in a form with one record, editing it. */
  ADD(true, "add"),

  /** Sending files before there is a submission: adding, or editing some record. */
  UPLOAD(true, ""),

  /** Checking values: adding; or editing, if the query names a {@code record}. */
  CHECK(true, "check"),

  /** Keeping a draft: adding; or editing, if the query names a {@code record}. */
  DRAFT(true, ""),

  /** Reading records. */
  SEE(true, ""),

  /** Reading records; or editing the record of a form that has one only. */
  OPEN(true, ""),

  /** Editing records. */
  EDIT(true, "edit"),

  /** Editing records where the answer shows what they hold. */
  SEE_AND_EDIT(true, "edit"),

  /** Removing records, and putting them back. */
  REMOVE(true, ""),

  /** Adding, reading or editing: whoever may do one of them may have the form's description. */
  USE(true, "");

  private final boolean ofForm;
  private final String attempt;

  Right(boolean ofForm, String attempt) {
    this.ofForm = ofForm;
    this.attempt = attempt;
  }

  /** True if it is a right to a form. */
  public boolean isOfForm() {
    return ofForm;
  }

  /** How a refused change is logged among the attempts; empty if it is not. */
  String attempt() {
    return attempt;
  }

  /**
   * True if the caller has this right to a form.
   *
   * @param ofRecord true if the call names a record of the form in its query
   */
  boolean allows(Caller caller, Form form, boolean ofRecord) {
    return switch (this) {
      case PROGRAM -> Authorization.isProgram(caller) && Authorization.maySee(caller, form);
      case SAMPLE -> mayAdd(caller, form) || Authorization.isAuthor(caller, form.name());
      case ADD -> mayAdd(caller, form);
      case UPLOAD ->
          mayAdd(caller, form)
              || Authorization.mayEdit(caller, form)
              || Authorization.mayOwn(caller, form, Access::edit);
      case CHECK, DRAFT -> ofRecord ? Authorization.mayEdit(caller, form) : mayAdd(caller, form);
      case SEE -> Authorization.maySee(caller, form);
      case OPEN ->
          Authorization.maySee(caller, form) || form.isOne() && Authorization.mayEdit(caller, form);
      case EDIT -> Authorization.mayEdit(caller, form);
      case SEE_AND_EDIT -> Authorization.mayEditSeen(caller, form);
      case REMOVE -> Authorization.may(caller, form, Access::remove);
      case USE -> Authorization.mayUse(caller, form);
      case NOTHING,
          NO_INVALID_TOKEN,
          SAME_ORIGIN,
          SIGNED_IN,
          AUTHOR,
          REMOVE_FORM,
          OPERATOR,
          ADMIN,
          VOUCH ->
          throw new IllegalStateException(this + " is no right to a form.");
    };
  }

  /**
   * True if the caller has this right to the records that they own.
   *
   * @param ofRecord as with {@link #allows}
   */
  boolean allowsOwn(Caller caller, Form form, boolean ofRecord) {
    boolean see = Authorization.mayOwn(caller, form, Access::see);
    boolean edit = Authorization.mayOwn(caller, form, Access::edit);
    return switch (this) {
      case CHECK, DRAFT -> ofRecord && edit;
      case SEE, OPEN -> see;
      case EDIT -> edit;
      case SEE_AND_EDIT ->
          (see || Authorization.maySee(caller, form))
              && (edit || Authorization.mayEdit(caller, form));
      case REMOVE -> Authorization.mayOwn(caller, form, Access::remove);
      default -> false;
    };
  }

  /**
   * True if a call with this right and without a record lists what there is, and changes nothing.
   */
  boolean isOfList() {
    return this == SEE || this == OPEN || this == REMOVE;
  }

  /** True if a {@code record} in the query makes it a right to edit. */
  boolean isOfRecordInQuery() {
    return this == CHECK || this == DRAFT;
  }

  /** Whoever may edit the only record may create it. */
  private static boolean mayAdd(Caller caller, Form form) {
    return form.isOne() ? Authorization.mayEdit(caller, form) : Authorization.mayAdd(caller, form);
  }
}
