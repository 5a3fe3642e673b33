package nodley.core.file;

import java.util.Optional;
import nodley.core.value.Wellformed;

/**
 * Reads the beginning of lists, parts and themes: the key that tells their kind, and their name.
 */
final class SharedFile {

  private SharedFile() {}

  /** The file's keys, its name checked. */
  static Section open(
      String text,
      Format format,
      String what,
      String naming,
      Optional<String> expected,
      Errors errors)
      throws FormFileException {
    try {
      Node tree = format == Format.JSON ? JsonTree.read(text) : YamlTree.read(text, errors);
      Section file = Section.of(tree, "#", "A " + what + " file", errors).orElse(null);
      if (file == null || !file.has(what)) {
        if (file != null) {
          file.missing("The file names its " + what + ": `" + what + ": NAME`.");
        }
        throw errors.thrown();
      }
      String name = file.text(what).orElse("");
      if (!name.matches(naming)) {
        file.bad(
            what,
            "bad-value",
            "The name is a small letter, then up to 39 small letters, digits or hyphens.");
        throw errors.thrown();
      }
      if (expected.isPresent() && !expected.get().equals(name)) {
        file.bad(
            what,
            "bad-value",
            "This file declares `"
                + name
                + "`, but is published as `"
                + Wellformed.of(expected.get())
                + "`.");
      }
      return file;
    } catch (Unparsable e) {
      errors.add(e.place(), "#", "unreadable", e.getMessage());
      throw errors.thrown();
    }
  }
}
