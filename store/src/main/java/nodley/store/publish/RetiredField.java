package nodley.store.publish;

/**
 * A field that its form no longer has, whose values are still stored.
 *
 * @param field its dotted path
 * @param type what its values were kept as
 * @param revision the first that did not have it
 * @param values how many there are
 */
public record RetiredField(String field, String type, int revision, String retiredAt, long values) {

  RetiredField of(long values) {
    return new RetiredField(field, type, revision, retiredAt, values);
  }
}
