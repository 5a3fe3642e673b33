package nodley.store.access;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.Optional;
import nodley.store.access.Sessions.Session;

/**
 * Sessions as they were last read, by the digests of their secrets: each request with a cookie asks
 * for one. Whatever ends sessions empties it after its commit, so nothing of it is ever out of date
 * but the last use. Thread-safe.
 */
public final class SessionCache {

  private static final int MOST = 10_000;

  private final Cache<String, Session> sessions = Caffeine.newBuilder().maximumSize(MOST).build();

  /** Counts how often it was emptied; written under the lock. */
  private volatile long emptied;

  Optional<Session> find(String digest) {
    return Optional.ofNullable(sessions.getIfPresent(digest));
  }

  /** To be taken before a session is read: see {@link #put}. */
  long mark() {
    return emptied;
  }

  /** Keeps a session that was read, unless some have ended since the mark. */
  synchronized void put(long mark, String digest, Session session) {
    if (mark == emptied) {
      sessions.put(digest, session);
    }
  }

  /** To be called after a commit that ends sessions. */
  synchronized void empty() {
    emptied++;
    sessions.invalidateAll();
  }
}
