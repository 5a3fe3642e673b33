package nodley.core.value;

import java.math.BigDecimal;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * One file of a field. As it is sent it is a reference: {@code upload:ID}, a complete upload of the
 * sender's; or {@code sha256:…}, a file that the edited record has or had. Once it was looked up,
 * what is known of the file is there as well; a stored one has no reference any more. Immutable.
 *
 * @param reference as it was sent; empty for a file that a record has
 * @param name the file's name, without folders; empty as long as it is not known
 * @param type media type, found from the content; empty as long as it is not known
 * @param size bytes
 * @param sha256 digest of the content (FIPS 180-4), 64 small hexadecimal digits; empty as long as
 *     it is not known
 */
public record FileRef(String reference, String name, String type, long size, String sha256) {

  private static final String UPLOAD = "upload:";
  private static final String DIGEST = "sha256:";
  private static final Pattern HEX = Pattern.compile("[0-9a-f]{64}");

  /** A file of which no more than a reference is known. */
  public static FileRef sent(String reference) {
    return new FileRef(reference, "", "", 0, "");
  }

  /** A file that a record has. */
  public static FileRef stored(String name, String type, long size, String sha256) {
    return new FileRef("", name, type, size, sha256);
  }

  /** The reference to a file of the record that is edited. */
  public static String toStored(String sha256) {
    return DIGEST + sha256;
  }

  /** The reference to an upload. */
  public static String toUpload(String id) {
    return UPLOAD + id;
  }

  /**
   * Reads a file as a record tells it: an object with its digest; what else it has is not believed,
   * but for the name.
   *
   * @return empty if it has no digest
   */
  public static Optional<FileRef> of(Raw.Members members) {
    String name = members.members().get("name") instanceof Raw.Text(String text) ? text : "";
    return members.members().get("sha256") instanceof Raw.Text(String digest)
            && HEX.matcher(digest).matches()
        ? Optional.of(new FileRef(DIGEST + digest, name, "", 0, ""))
        : Optional.empty();
  }

  /** The id of the upload that it refers to; empty if it refers to none. */
  public Optional<String> upload() {
    return reference.startsWith(UPLOAD)
        ? Optional.of(reference.substring(UPLOAD.length()))
        : Optional.empty();
  }

  /** The digest of the stored file that it refers to; empty if it refers to none. */
  public Optional<String> digest() {
    return reference.startsWith(DIGEST)
            && HEX.matcher(reference).region(7, reference.length()).matches()
        ? Optional.of(reference.substring(DIGEST.length()))
        : Optional.empty();
  }

  /** True once it was looked up. */
  public boolean isKnown() {
    return !sha256.isEmpty();
  }

  /** The same as a record has it. */
  public FileRef asStored() {
    return stored(name, type, size, sha256);
  }

  /** What JSON says: the reference as long as it has one, else all that is known. */
  Raw raw() {
    if (!reference.isEmpty()) {
      return new Raw.Text(reference);
    }
    Map<String, Raw> members = new LinkedHashMap<>();
    members.put("name", new Raw.Text(name));
    members.put("type", new Raw.Text(type));
    members.put("size", new Raw.Number(BigDecimal.valueOf(size)));
    members.put("sha256", new Raw.Text(sha256));
    return new Raw.Members(members);
  }

  /** How a person reads it. */
  String shown() {
    return name.isEmpty() ? reference : name;
  }
}
