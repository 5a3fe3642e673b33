package nodley.service.http;

/**
 * The body of a request.
 *
 * @param mediaType in small letters, without parameters
 */
public record Body(String mediaType, byte[] bytes) {}
