package nodley.store.unique;

import java.time.Instant;

/**
 * A unique value that is reserved for an open page.
 *
 * @param name the fields that are unique, such as {@code callSign}, or {@code vessel+arrives}
 * @param value as the index has it, a JSON array
 * @param address where the page was open
 * @param until when it ends by itself
 */
public record Hold(String form, String name, String value, String address, Instant until) {}
