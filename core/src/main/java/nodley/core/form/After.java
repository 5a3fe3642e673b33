package nodley.core.form;

/**
 * What follows an acceptance.
 *
 * @param go {@code list}, {@code record}, {@code stay}, or an address: a path or http(s)
 * @param say the outcome, told on the next page
 */
public record After(String go, Template say) {}
