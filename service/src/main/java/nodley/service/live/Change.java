package nodley.service.live;

/**
 * A record was added, edited or removed.
 *
 * @param version what it is at now; 0 if it was removed
 * @param owner the id of the person whose record it is, or was; empty for nobody's
 */
public record Change(String form, String record, long version, String owner) {}
