package nodley.store.record;

import java.util.Optional;
import java.util.function.Function;
import nodley.store.attempt.Attempt;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Caused;

/**
 * Who sent a submission, from where, and what is stored along with it.
 *
 * @param by who sent it; empty if nobody is known
 * @param person the id of the person who sent it; empty if it was a program, or nobody known
 * @param page the open page that it was sent from, whose holds do not stand in its way; empty if
 *     none is known
 * @param draft the draft that it finishes, which goes with it; empty if there was none
 * @param once what tells it from others, if its sender may send it again
 * @param logged what the log is told once it is kept, in the same transaction
 * @param caused what outlets are to be told of the record, in the same transaction
 */
public record SubmissionInfo(
    String by,
    String person,
    String page,
    String draft,
    Optional<Once> once,
    Optional<Function<StoredRecord, Attempt>> logged,
    Caused caused) {

  /** Returns the info of a submission that came by no page and cannot be repeated. */
  public static SubmissionInfo by(String by) {
    return new SubmissionInfo(by, "", "", "", Optional.empty(), Optional.empty(), Caused.NOTHING);
  }

  /** Returns the same with an attempt to log in the transaction of the record. */
  public SubmissionInfo logged(Function<StoredRecord, Attempt> attempt) {
    return new SubmissionInfo(by, person, page, draft, once, Optional.of(attempt), caused);
  }

  /** Returns the same with what outlets are to be told of the record. */
  public SubmissionInfo causing(Caused deliveries) {
    return new SubmissionInfo(by, person, page, draft, once, logged, deliveries);
  }

  /**
   * A submission that is kept once, however often it arrives.
   *
   * @param key what the sender calls it; one caller and form have it for one submission
   * @param digest of what was sent
   * @param answer what is told of the record, now and each time it arrives again
   */
  public record Once(String key, String digest, Function<StoredRecord, String> answer) {}
}
