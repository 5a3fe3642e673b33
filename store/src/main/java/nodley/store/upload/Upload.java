package nodley.store.upload;

import java.time.Instant;

/**
 * A file on its way to a field of a form; nothing has taken it over yet. Immutable: what is known
 * of it at one moment.
 *
 * @param id unguessable; names the upload in its address and as a field's value
 * @param field dotted path of the field
 * @param owner who may use and see it, as the service names callers; empty for whoever knows the id
 * @param name as it was sent, made safe by {@link FileNames}
 * @param size bytes that the whole file has
 * @param endsAt when it is swept if nothing has taken it over
 * @param sha256 digest of the content; empty until the upload is complete
 * @param type media type, found from the content; empty until the upload is complete
 * @param draft the id of the draft that it is kept for; empty if it is for none
 */
public record Upload(
    String id,
    String form,
    String field,
    String owner,
    String name,
    long size,
    Instant endsAt,
    String sha256,
    String type,
    String draft) {

  /**
   * What a caller announces.
   *
   * @param address where it comes from; what waits is limited by owner, or else by address
   */
  public record Announced(
      String form, String field, String owner, String address, String name, long size) {}

  Upload complete(String sha256, String type) {
    return new Upload(id, form, field, owner, name, size, endsAt, sha256, type, draft);
  }

  /** True once all bytes are there. */
  public boolean isComplete() {
    return !sha256.isEmpty();
  }
}
