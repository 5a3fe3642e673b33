package nodley.store;

import java.util.function.Supplier;

/**
 * A value that is worked out when it is first asked for, once, by whoever asks first; others wait
 * for it. If that fails, the next one tries anew.
 */
final class Lazy<T> implements Supplier<T> {

  private final Supplier<T> work;
  private volatile T value;

  /** Of work that gives no null. */
  Lazy(Supplier<T> work) {
    this.work = work;
  }

  boolean isDone() {
    return value != null;
  }

  @Override
  public T get() {
    if (value == null) {
      synchronized (this) {
        if (value == null) {
          value = work.get();
        }
      }
    }
    return value;
  }
}
