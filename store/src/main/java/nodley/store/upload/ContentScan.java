package nodley.store.upload;

import java.io.IOException;
import java.nio.file.Path;

/**
 * Looks whether the content of a file does harm, before a record may take it over. Called once for
 * each upload whose bytes are all there, on the thread that brought the last of them.
 */
@FunctionalInterface
public interface ContentScan {

  /** Nothing is looked at. */
  ContentScan NONE = _ -> {};

  /**
   * Returns if the content does no harm.
   *
   * @throws UploadException.Harmful if it does
   * @throws UploadException.Unscanned if that is not known now; the upload waits then
   */
  void check(Path file) throws IOException;
}
