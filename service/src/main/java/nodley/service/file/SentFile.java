package nodley.service.file;

import nodley.core.value.FileRef;

/**
 * A file as it is given out.
 *
 * @param type media type, found from the content
 * @param size bytes
 */
public record SentFile(String name, String type, long size, String sha256) {

  /** Returns a file of a record. */
  public static SentFile of(FileRef file) {
    return new SentFile(file.name(), file.type(), file.size(), file.sha256());
  }
}
