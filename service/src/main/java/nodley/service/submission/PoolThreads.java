package nodley.service.submission;

import java.util.concurrent.ThreadFactory;

/**
 * Makes the threads of pools that outlive requests. They are daemons: none keeps the process from
 * ending.
 */
final class PoolThreads {

  private PoolThreads() {}

  /**
   * Returns a factory of daemon threads.
   *
   * @param prefix of their names; a number follows
   */
  static ThreadFactory named(String prefix) {
    ThreadFactory daemons = Thread.ofPlatform().daemon().name(prefix, 1).factory();
    return task -> {
      Thread thread = daemons.newThread(task);
      // A request starts it, and Tomcat would warn of it as one of its own when it stops.
      thread.setContextClassLoader(PoolThreads.class.getClassLoader());
      return thread;
    };
  }
}
