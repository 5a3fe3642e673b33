package nodley.bench;

import java.util.Map;
import java.util.Optional;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.ListFile;
import nodley.core.file.Shared;

/** What random forms can refer to: a list with marks, and a form whose records nobody has seen. */
final class World {

  private static final String LIST =
      """
      list: marked
      options:
        - { value: a, label: The a, size: 1, big: false }
        - { value: b, size: 2.5, big: true }
        - { value: Ü, label: Umlaut, size: 3 }
        - { value: old, offered: false, size: 4 }
      """;

  private static final String BOAT =
      """
      form: boat
      fields:
        draught: { type: decimal }
        built: { type: date }
        rig: { type: choice, options: [a, b] }
        owner: { type: group, fields: { name: { type: text } } }
      """;

  private World() {}

  static FormRegistry registry() {
    try {
      Shared shared = Shared.NONE.with(ListFile.read(LIST, Format.YAML, Optional.empty()));
      return FormRegistry.of(Map.of("boat", FormFile.read(BOAT)), shared);
    } catch (FormFileException e) {
      throw new IllegalStateException(e);
    }
  }
}
