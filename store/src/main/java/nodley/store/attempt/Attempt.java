package nodley.store.attempt;

/**
 * One logged submission, whatever became of it.
 *
 * @param id the request's, as its reply had it
 * @param form the name; it may be gone by now
 * @param mode {@code add}, {@code edit} or {@code check}
 * @param at milliseconds since 1970
 * @param micros how long it took, in microseconds; of what is kept, until it was written
 * @param waited how long it waited to be written, and was written, in microseconds; 0 if it was not
 * @param record the id of what it is about; empty if it is about none
 * @param verdict {@code accepted}, {@code refused}, {@code repeated}, or {@code failed} if it did
 *     not come to a judgement that counts
 * @param problem the last part of the problem's type, such as {@code outdated}; empty if accepted
 * @param errors a JSON array of pointers, codes and sentences
 * @param account a JSON object with the rest: from where, by whom, values, steps
 */
public record Attempt(
    String id,
    String form,
    int revision,
    String mode,
    long at,
    long micros,
    long waited,
    String record,
    String verdict,
    String problem,
    String errors,
    String account) {}
