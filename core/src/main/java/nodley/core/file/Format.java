package nodley.core.file;

/**
 * The two notations of a form file: YAML 1.2 and JSON. Both say the same; only positions in errors
 * differ.
 */
public enum Format {
  YAML("application/yaml"),
  JSON("application/json");

  private final String mediaType;

  Format(String mediaType) {
    this.mediaType = mediaType;
  }

  /** RFC 9512 and RFC 8259. */
  public String mediaType() {
    return mediaType;
  }

  /** The format that a media type tells; of any other, YAML, which JSON is a part of. */
  public static Format ofMediaType(String mediaType) {
    return mediaType.equals(JSON.mediaType) ? JSON : YAML;
  }

  /** The format that a file's name tells. */
  public static Format ofFile(String name) {
    return name.endsWith(".json") ? JSON : YAML;
  }
}
