package nodley.store.common;

import java.util.function.Supplier;

/**
 * A value that is computed once, when it is first needed. Thread-safe: one thread computes, others
 * wait. If that fails, the next caller tries again.
 */
public final class Lazy<T> implements Supplier<T> {

  private final Supplier<T> work;
  private volatile T value;

  /** Of work that gives no null. */
  public Lazy(Supplier<T> work) {
    this.work = work;
  }

  /** Returns true once the value is computed. */
  public boolean isDone() {
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
