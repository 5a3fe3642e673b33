package nodley.service.limits;

/** What becomes of a submission when somebody outside did not answer. */
public enum Unanswered {
  /** It is accepted, and its attempt says so. */
  ACCEPT,

  /** It is not, and can be sent again. */
  REFUSE
}
