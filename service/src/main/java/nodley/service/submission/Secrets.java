package nodley.service.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.service.limits.Limits;
import nodley.service.problem.Problem;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;
import org.springframework.security.crypto.password.DelegatingPasswordEncoder;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.crypto.password.Pbkdf2PasswordEncoder;
import org.springframework.stereotype.Component;

/**
 * Makes digests of secrets before anything is kept, by Argon2id (RFC 9106), salted; what is kept
 * says algorithm and parameters. Each costs a good part of a tenth of a second of a processor and
 * 16 MiB, so they have few threads of their own; what finds no place in the queue is told to come
 * again.
 */
@Component
public final class Secrets implements DisposableBean {

  /**
   * A digest of no secret, with the parameters of those that are made now: to compare with it takes
   * as long as with any other. Written out, for to make one takes half a second of a cold start.
   */
  public static final String OF_NO_SECRET =
      "{argon2id}$argon2id$v=19$m=16384,t=2,p=1$"
          + "AAAAAAAAAAAAAAAAAAAAAA$"
          + "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

  private static final int THREADS = Math.max(1, Runtime.getRuntime().availableProcessors() / 2);
  private static final int KEPT_ALIVE_SECONDS = 30;

  private final PasswordEncoder digests = encoder();
  private final int mostPerSubmission;
  private final ThreadPoolExecutor threads;

  Secrets(Limits limits) {
    this.mostPerSubmission = limits.secret().perSubmission();
    this.threads =
        new ThreadPoolExecutor(
            THREADS,
            THREADS,
            KEPT_ALIVE_SECONDS,
            TimeUnit.SECONDS,
            new ArrayBlockingQueue<>(limits.secret().waiting()),
            PoolThreads.named("digests-"));
    threads.allowCoreThreadTimeOut(true);
  }

  @Override
  public void destroy() {
    threads.shutdownNow();
  }

  /** Argon2id for new ones; what an earlier build kept, PBKDF2 without a mark, still counts. */
  private static PasswordEncoder encoder() {
    var encoder =
        new DelegatingPasswordEncoder(
            "argon2id", Map.of("argon2id", Argon2PasswordEncoder.defaultsForSpringSecurity_v5_8()));
    encoder.setDefaultPasswordEncoderForMatches(
        Pbkdf2PasswordEncoder.defaultsForSpringSecurity_v5_8());
    return encoder;
  }

  /**
   * Whether this is the secret that a digest was made of, and whether the digest should be made
   * anew, because an earlier build made it.
   */
  public record Compared(boolean same, boolean outdated) {}

  /**
   * Compares; takes as long as making a digest does.
   *
   * @throws Problem 503 if more are to be made than can be at once
   */
  public Compared compare(String secret, String digest) {
    boolean same = inTurn(() -> digests.matches(secret, digest));
    return new Compared(same, same && digests.upgradeEncoding(digest));
  }

  /**
   * The same with digests in place of secrets.
   *
   * @throws Problem 503 if more are to be made than can be at once; 413 if one submission holds too
   *     many
   */
  Values sealed(Fields fields, Values values) {
    int count = count(fields, values);
    if (count > mostPerSubmission) {
      throw Problem.of(
          413,
          "too-large",
          "There are too many secrets",
          "A submission has up to " + mostPerSubmission + " secrets, not " + count + ".");
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

  /** A digest, with its algorithm and parameters before it. */
  public String digest(String secret) {
    return inTurn(() -> digests.encode(secret));
  }

  private <T> T inTurn(Callable<T> work) {
    try {
      return threads.submit(work).get();
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

  private Values digested(Fields fields, Values values) {
    Map<String, Value> sealed = new LinkedHashMap<>();
    values
        .byName()
        .forEach(
            (name, value) ->
                sealed.put(name, fields.find(name).map(it -> sealed(it, value)).orElse(value)));
    return new Values(sealed).ofRow(values.row());
  }

  private Value sealed(Field field, Value value) {
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
