package nodley.service.live;

/**
 * A record was added, edited or removed.
 *
 * @param version what it is at now; 0 if it was removed
 */
public record Change(String form, String record, long version) {}
