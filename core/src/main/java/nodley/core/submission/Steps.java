package nodley.core.submission;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.function.Supplier;

/**
 * How long the steps of one submission took, in their order. It belongs to one thread at a time.
 */
public final class Steps {

  /** For those who do not ask how long anything takes. */
  public static final Steps UNTIMED = new Steps(false);

  private final boolean timed;
  private final List<Step> steps = new ArrayList<>();
  private final long began;
  private long since;

  public Steps() {
    this(true);
  }

  private Steps(boolean timed) {
    this.timed = timed;
    began = timed ? System.nanoTime() : 0;
    since = began;
  }

  /**
   * One step.
   *
   * @param about what a question asked; empty for the other steps
   * @param nanos how long it took, in nanoseconds; judging does not count the questions within it
   */
  public record Step(String name, String about, long nanos) {}

  /** A step ends that began where the one before it ended. */
  public void done(String name) {
    if (!timed) {
      return;
    }
    long now = System.nanoTime();
    steps.add(new Step(name, "", now - since));
    since = now;
  }

  /** What was done since the last step is nobody's. */
  public void skip() {
    since = timed ? System.nanoTime() : 0;
  }

  /** Asks, and tells how long the answer took. */
  public <T> T question(String about, Supplier<T> question) {
    if (!timed) {
      return question.get();
    }
    long asked = System.nanoTime();
    T answer = question.get();
    long took = System.nanoTime() - asked;
    steps.add(new Step("question", about, took));
    since += took;
    return answer;
  }

  public List<Step> list() {
    return Collections.unmodifiableList(steps);
  }

  /** From the beginning until now, in nanoseconds. */
  public long nanos() {
    return timed ? System.nanoTime() - began : 0;
  }
}
