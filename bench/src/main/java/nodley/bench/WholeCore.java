package nodley.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.openjdk.jmh.annotations.Level;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;

/**
 * Tells iterations that had a whole core from those that shared it. Where machines are virtual, a
 * neighbour on the same core halves what it does, for seconds or minutes, and nothing tells so. So
 * each iteration stands between two runs of the same sums: where one of these took a tenth longer
 * than the quickest of all, the core was not whole.
 */
@State(Scope.Thread)
public class WholeCore {

  private static final int SUMS = 2_000_000;
  private static final double TOLERANCE = 1.1;

  private final List<Iteration> iterations = new ArrayList<>();
  private long quickest = Long.MAX_VALUE;
  private long before;
  private long began;
  private long sum;
  private int done;

  /** What an iteration did in a second, and the longer of the two sums beside it. */
  private record Iteration(double aSecond, long sums) {}

  @Setup(Level.Iteration)
  public void begin() {
    before = sums();
    done = 0;
    began = System.nanoTime();
  }

  /** To be called at each operation. */
  void count() {
    done++;
  }

  @TearDown(Level.Iteration)
  public void end() {
    double aSecond = done * 1e9 / (System.nanoTime() - began);
    iterations.add(new Iteration(aSecond, Math.max(before, sums())));
  }

  /** Four chains that do not wait for each other, so that a neighbour is felt at once. */
  private long sums() {
    long start = System.nanoTime();
    long a = 1;
    long b = 2;
    long c = 3;
    long d = 4;
    for (int i = 0; i < SUMS; i++) {
      a = a * 31 + i;
      b = b * 37 + i;
      c = c * 41 + i;
      d = d * 43 + i;
    }
    sum += a ^ b ^ c ^ d;
    long took = System.nanoTime() - start;
    quickest = Math.min(quickest, took);
    return took;
  }

  /** The first tenth is for the JVM to get warm. */
  @TearDown(Level.Trial)
  public void tell() {
    List<Iteration> warm = iterations.subList(iterations.size() / 10, iterations.size());
    double[] whole =
        warm.stream()
            .filter(it -> it.sums() <= TOLERANCE * quickest)
            .mapToDouble(Iteration::aSecond)
            .toArray();
    System.out.printf(
        "%nwith a whole core (%d of %d iterations): %,.0f ops/s%n",
        whole.length, warm.size(), Arrays.stream(whole).average().orElse(0));
    if (sum == 0) {
      throw new IllegalStateException("The sums were never done.");
    }
  }
}
