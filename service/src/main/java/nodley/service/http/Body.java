package nodley.service.http;

/**
 * The body of a request.
 *
 * @param mediaType in small letters, without parameters
 * @param identity what tells it from the bodies of other submissions: the bytes, in which files
 *     stand as digests of what they hold
 */
public record Body(String mediaType, byte[] bytes, byte[] identity) {

  /** A body without files. */
  public Body(String mediaType, byte[] bytes) {
    this(mediaType, bytes, bytes);
  }
}
