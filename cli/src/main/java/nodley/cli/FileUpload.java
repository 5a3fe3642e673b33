package nodley.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import nodley.core.value.ByteSize;
import picocli.CommandLine;

/**
 * Uploads the files that values on the command line name, {@code insurance=@papers.pdf}, and tells
 * how far each has come: with a bar where a person looks on, else in one line.
 */
final class FileUpload {

  private static final int WIDTH = 24;
  private static final int PERCENT = 100;
  private static final int TRIES = 6;
  private static final int PIECE = 8 << 20;

  private final Client client;
  private final String form;
  private final CommandLine commands;
  private final PrintWriter told;
  private final boolean seen;

  /**
   * Uploads for one form.
   *
   * @param seen true if a person sees what is told, so that a line may be written over
   */
  FileUpload(Client client, String form, CommandLine commands, boolean seen) {
    this.client = client;
    this.form = form;
    this.commands = commands;
    this.told = commands.getErr();
    this.seen = seen;
  }

  /**
   * Uploads a file for a field.
   *
   * @param field dotted path, without rows
   * @return what stands as the field's value
   */
  String send(String field, String written) {
    Path file = Path.of(written);
    if (!Files.isRegularFile(file)) {
      throw new CommandLine.ParameterException(commands, "There is no file " + file + ".");
    }
    try {
      long size = Files.size(file);
      String location = client.beginUpload(form, field, file.getFileName().toString(), size);
      long offset = 0;
      int tries = 0;
      while (offset < size) {
        tell(file, offset, size);
        try (InputStream in = Files.newInputStream(file)) {
          in.skipNBytes(offset);
          offset = client.appendUpload(location, offset, in.readNBytes(PIECE));
          tries = 0;
        } catch (ServiceUnreachable e) {
          if (++tries == TRIES) {
            throw e;
          }
          offset = client.uploadOffset(location).orElse(offset);
        }
      }
      tell(file, size, size);
      if (seen) {
        told.println();
      } else {
        told.println(file.getFileName() + ": " + ByteSize.shown(size) + " uploaded.");
      }
      return "upload:" + location.substring(location.lastIndexOf('/') + 1);
    } catch (IOException e) {
      throw new CommandLine.ParameterException(
          commands, file + " cannot be read: " + e.getMessage());
    }
  }

  private void tell(Path file, long sent, long size) {
    if (seen) {
      told.print("\r" + bar(file.getFileName().toString(), sent, size));
      told.flush();
    }
  }

  /** One line: the name, a bar, and how much of how much. */
  static String bar(String name, long sent, long size) {
    int percent = size == 0 ? PERCENT : (int) (PERCENT * sent / size);
    int full = WIDTH * percent / PERCENT;
    return "%s  [%s%s] %3d %%  %s of %s "
        .formatted(
            name,
            "=".repeat(full),
            " ".repeat(WIDTH - full),
            percent,
            ByteSize.shown(sent),
            ByteSize.shown(size));
  }
}
