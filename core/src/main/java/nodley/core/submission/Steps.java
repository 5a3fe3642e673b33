package nodley.core.submission;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import java.util.function.Supplier;

/**
 * Measures how long the stages of one submission take, in their order, in nanoseconds. {@link
 * #UNTIMED} measures nothing and costs nothing. For one thread at a time.
 */
public final class Steps {

  /** Measures nothing. */
  public static final Steps UNTIMED = new Steps(false);

  private final boolean timed;
  private final List<Ended> steps = new ArrayList<>();
  private final long began;
  private long since;

  /** Notes the stages of a submission that begins now. */
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
   * @param about what was looked up; empty for the other steps
   * @param nanos how long it took, in nanoseconds; validation does not include lookups within it
   */
  public record Step(String name, String about, long nanos) {}

  /** A step that has ended; what it was about is put into words only if somebody is told. */
  private record Ended(String name, Supplier<String> about, long nanos) {}

  /** Ends a step, which began when the one before it ended. */
  public void done(String name) {
    if (!timed) {
      return;
    }
    long now = System.nanoTime();
    steps.add(new Ended(name, () -> "", now - since));
    since = now;
  }

  /** Leaves out the time since the last step: it belongs to none. */
  public void skip() {
    since = timed ? System.nanoTime() : 0;
  }

  /** Runs a lookup and measures it. */
  public <T> T question(String about, Supplier<T> question) {
    return question(_ -> about, question);
  }

  /**
   * The same, saying what was looked up once there is an answer.
   *
   * @param about asked for each time that the steps are listed
   */
  public <T> T question(Function<T, String> about, Supplier<T> question) {
    if (!timed) {
      return question.get();
    }
    long asked = System.nanoTime();
    T answer = question.get();
    long took = System.nanoTime() - asked;
    steps.add(new Ended("question", () -> about.apply(answer), took));
    since += took;
    return answer;
  }

  /** Returns the stages that have ended, in their order. */
  public List<Step> list() {
    return steps.stream().map(it -> new Step(it.name(), it.about().get(), it.nanos())).toList();
  }

  /** Returns the time since the beginning, in nanoseconds. */
  public long nanos() {
    return timed ? System.nanoTime() - began : 0;
  }
}
