package nodley.bench;

import java.util.List;
import java.util.SplittableRandom;
import java.util.function.Supplier;

/** A seeded source of choices. */
final class Dice {

  private final SplittableRandom random;

  Dice(long seed) {
    random = new SplittableRandom(seed);
  }

  /** A number from 0 to below the bound. */
  int below(int bound) {
    return random.nextInt(bound);
  }

  int between(int min, int max) {
    return random.nextInt(min, max + 1);
  }

  /** True so many times in a hundred. */
  boolean in100(int times) {
    return random.nextInt(100) < times;
  }

  <T> T one(List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  @SafeVarargs
  final <T> T one(T... of) {
    return of[random.nextInt(of.length)];
  }

  @SafeVarargs
  final <T> T run(Supplier<T>... of) {
    return of[random.nextInt(of.length)].get();
  }
}
