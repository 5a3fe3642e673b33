package nodley.core.submission;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Span;
import nodley.core.value.FileRef;

/**
 * Judges a file by the limits of its field: {@code size} and {@code accept}. Submissions are judged
 * by it, and uploads before there is a submission. Stateless.
 */
public final class FileRules {

  private FileRules() {}

  /**
   * Returns the code of what is wrong with a file; empty if nothing is.
   *
   * @param endings those that files of its type usually have, in small letters: {@code .jpg}
   */
  public static Optional<String> fault(Field field, FileRef file, Set<String> endings) {
    Span<Long> size = field.limits().size();
    if (size.max().isPresent() && file.size() > size.max().get()) {
      return Optional.of("file-too-large");
    }
    if (size.min().isPresent() && file.size() < size.min().get()) {
      return Optional.of("range-underflow");
    }
    return isAccepted(field.limits().accept(), file.type(), endings)
        ? Optional.empty()
        : Optional.of("file-type");
  }

  /** Returns the sentence for a code of {@link #fault}, in the language of the form. */
  public static String sentence(Form form, Field field, String code, FileRef file) {
    return Sentences.of(form).file(field, code, file);
  }

  private static boolean isAccepted(List<String> accept, String type, Set<String> endings) {
    for (String entry : accept) {
      String wanted = entry.toLowerCase(Locale.ROOT);
      boolean accepted =
          wanted.startsWith(".")
              ? endings.contains(wanted)
              : wanted.endsWith("/*")
                  ? type.startsWith(wanted.substring(0, wanted.length() - 1))
                  : type.equals(wanted);
      if (accepted) {
        return true;
      }
    }
    return accept.isEmpty();
  }
}
