package nodley.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import nodley.core.file.FileName;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.ListFile;
import nodley.core.file.PartFile;
import nodley.core.file.Shared;
import nodley.core.file.TextsFile;
import nodley.core.file.ThemeFile;

/**
 * Finds lists, parts, themes and texts on this machine: beside a form file, or in `lists`, `parts`
 * and `themes` near it.
 */
final class SharedFiles {

  /** The kinds of what forms share, each before those that may use it. */
  private static final List<String> SHARED = List.of("list", "part", "theme");

  private SharedFiles() {}

  private static FileName named(Path file) {
    return FileName.of(file.getFileName().toString());
  }

  /** What a file is by its name: list, part, theme, texts ({@code visit.de.yaml}), or form. */
  static String kind(Path file) {
    return named(file).kind().word();
  }

  /** The form and the language of a file of texts. */
  static Optional<TextsFile.Name> texts(Path file) {
    return TextsFile.name(named(file).name());
  }

  /** The name that a file's name gives to its list, part or theme. */
  static String name(Path file) {
    return named(file).name();
  }

  /** What the forms in these files may share; a file with errors is told when it is linted. */
  static Shared near(List<Path> files) {
    Set<Path> folders = new LinkedHashSet<>();
    for (Path file : files) {
      Path folder = file.toAbsolutePath().normalize().getParent();
      for (String kind : List.of("lists", "parts", "themes")) {
        folders.add(folder.resolve(kind));
        folders.add(folder.resolveSibling(kind));
      }
      folders.add(folder);
    }
    List<Path> found = new ArrayList<>();
    for (Path folder : folders) {
      if (Files.isDirectory(folder)) {
        try (Stream<Path> inside = Files.list(folder)) {
          inside.filter(it -> SHARED.contains(kind(it))).forEach(found::add);
        } catch (IOException e) {
          throw new UncheckedIOException(e);
        }
      }
    }
    found.sort(Path::compareTo);
    Shared shared = Shared.NONE;
    for (String kind : SHARED) {
      for (Path file : found) {
        if (kind(file).equals(kind)) {
          shared = with(shared, file);
        }
      }
    }
    return shared;
  }

  private static Shared with(Shared shared, Path file) {
    try {
      return read(shared, file, Files.readAllBytes(file));
    } catch (IOException | FormFileException e) {
      return shared;
    }
  }

  /** The same with one more. */
  static Shared read(Shared shared, Path file, byte[] bytes) throws FormFileException {
    String text = FormFile.decode(bytes);
    Format format = Format.ofFile(file.toString());
    Optional<String> name = Optional.of(name(file));
    return switch (kind(file)) {
      case "list" -> shared.with(ListFile.read(text, format, name));
      case "part" -> shared.with(PartFile.read(text, format, name, FormRegistry.alone(shared)));
      default -> shared.with(ThemeFile.read(text, format, name));
    };
  }
}
