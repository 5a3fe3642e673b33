package nodley.service.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.problem.Problem;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.crypto.password.Pbkdf2PasswordEncoder;

/**
 * Makes digests of secrets before anything is kept: PBKDF2 (RFC 8018) with SHA-256, salted. Each
 * costs a good part of a second of a processor, so they have few threads of their own; what finds
 * no place in the queue is told to come again.
 */
final class Secrets {

  private static final PasswordEncoder DIGEST =
      Pbkdf2PasswordEncoder.defaultsForSpringSecurity_v5_8();

  /** So many digests may wait for their turn. */
  private static final int QUEUE = 64;

  /** So many a submission may hold. */
  private static final int MOST = 20;

  private static final int THREADS = Math.max(1, Runtime.getRuntime().availableProcessors() / 2);
  private static final ThreadPoolExecutor DIGESTING =
      new ThreadPoolExecutor(
          THREADS,
          THREADS,
          30,
          TimeUnit.SECONDS,
          new ArrayBlockingQueue<>(QUEUE),
          Thread.ofPlatform().daemon().name("digests-", 1).factory());

  static {
    DIGESTING.allowCoreThreadTimeOut(true);
  }

  private Secrets() {}

  /**
   * The same with digests in place of secrets.
   *
   * @throws Problem 503 if more are to be made than can be at once; 413 if one submission holds too
   *     many
   */
  static Values sealed(Fields fields, Values values) {
    int count = count(fields, values);
    if (count > MOST) {
      throw Problem.of(
          413,
          "too-large",
          "There are too many secrets",
          "A submission has up to " + MOST + " secrets, not " + count + ".");
    }
    return count == 0 ? values : digested(fields, values);
  }

  private static int count(Fields fields, Values values) {
    int count = 0;
    for (Field field : fields) {
      count +=
          switch (values.get(field.name())) {
            case Value.Text _ when field.isSecret() && field.isKept() -> 1;
            case Value.Group(Values inside) -> count(field.fields(), inside);
            case Value.Rows(List<Values> rows) ->
                rows.stream().mapToInt(row -> count(field.fields(), row)).sum();
            default -> 0;
          };
    }
    return count;
  }

  private static String digest(String secret) {
    try {
      return DIGESTING.submit(() -> DIGEST.encode(secret)).get();
    } catch (RejectedExecutionException e) {
      throw Problem.of(
              503, "busy", "Try again shortly", "More secrets come than can be digested at once.")
          .header("Retry-After", "2");
    } catch (ExecutionException e) {
      throw new IllegalStateException(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }

  private static Values digested(Fields fields, Values values) {
    Map<String, Value> sealed = new LinkedHashMap<>();
    values
        .byName()
        .forEach(
            (name, value) ->
                sealed.put(name, fields.find(name).map(it -> sealed(it, value)).orElse(value)));
    return new Values(sealed).ofRow(values.row());
  }

  private static Value sealed(Field field, Value value) {
    return switch (value) {
      case Value.Text(String text) when field.isSecret() && field.isKept() ->
          new Value.Text(digest(text));
      case Value.Group(Values inside) -> new Value.Group(digested(field.fields(), inside));
      case Value.Rows(List<Values> rows) ->
          new Value.Rows(rows.stream().map(row -> digested(field.fields(), row)).toList());
      default -> value;
    };
  }
}
