package nodley.service.upload;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Optional;
import nodley.core.submission.Lookups;
import nodley.core.value.FileRef;
import nodley.store.upload.MediaTypes;

/**
 * References to files that came within a submission and that their field does not take. They say
 * themselves what the error needs, and are good for nothing else: such a file is not known by its
 * digest, and nothing accepts it. Stateless.
 */
final class RefusedFiles {

  private static final String PREFIX = "refused:";
  private static final String HARMFUL = "harmful:";

  private RefusedFiles() {}

  /** A file that its field does not take. */
  static Uploading.Received received(FileRef file) {
    return received(PREFIX, file);
  }

  /** A file whose content does harm. */
  static Uploading.Received harmful(FileRef file) {
    return received(PREFIX + HARMFUL, file);
  }

  private static Uploading.Received received(String prefix, FileRef file) {
    String said = file.size() + " " + file.type() + " " + file.name();
    String reference =
        prefix
            + Base64.getUrlEncoder()
                .withoutPadding()
                .encodeToString(said.getBytes(StandardCharsets.UTF_8));
    return new Uploading.Received(reference, reference);
  }

  static Optional<Lookups.FoundFile> find(String reference) {
    if (!reference.startsWith(PREFIX)) {
      return Optional.empty();
    }
    boolean harmful = reference.startsWith(PREFIX + HARMFUL);
    try {
      String encoded = reference.substring(PREFIX.length() + (harmful ? HARMFUL.length() : 0));
      byte[] said = Base64.getUrlDecoder().decode(encoded);
      String[] parts = new String(said, StandardCharsets.UTF_8).split(" ", 3);
      return parts.length == 3 && parts[0].matches("[0-9]{1,18}")
          ? Optional.of(
              new Lookups.FoundFile(
                  new FileRef(reference, parts[2], parts[1], Long.parseLong(parts[0]), ""),
                  MediaTypes.endings(parts[1]),
                  harmful))
          : Optional.empty();
    } catch (IllegalArgumentException e) {
      return Optional.empty();
    }
  }
}
