package nodley.core.sample;

import java.util.List;
import java.util.SplittableRandom;

/** Random choices from a seed: the same seed gives the same choices. */
record SeededRandom(SplittableRandom random) {

  SeededRandom(long seed) {
    this(new SplittableRandom(seed));
  }

  /** A number from min to max, both included. */
  long between(long min, long max) {
    return min >= max ? min : random.nextLong(min, max + 1);
  }

  <T> T one(List<T> of) {
    return of.get(random.nextInt(of.size()));
  }
}
