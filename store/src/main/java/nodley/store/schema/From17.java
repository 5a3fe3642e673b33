package nodley.store.schema;

/** The step from data version 17 to 18: one index fewer. */
final class From17 {

  /** What an attempt has caused is found by its record. */
  static final String DELIVERY_INDEXES = "DROP INDEX nodley_deliveries_attempt;\n";

  private From17() {}
}
