package nodley.core.submission;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.value.FileRef;
import nodley.core.value.Value;

/**
 * Looks up the files that a submission refers to, and judges those that are new by the limits of
 * their field. Part of the fifth stage.
 */
final class FileLookup {

  private final Request request;
  private final Problems problems;

  FileLookup(Request request, Problems problems) {
    this.request = request;
    this.problems = problems;
  }

  /** Puts what is known of each file into the value; the first that is not right is the error. */
  void lookUp(FieldState state) {
    if (!(state.value instanceof Value.Files(List<FileRef> files, boolean many))) {
      return;
    }
    List<FileRef> known = new ArrayList<>(files.size());
    for (FileRef file : files) {
      if (file.isKnown()) {
        known.add(file);
        continue;
      }
      Optional<Optional<Lookups.FoundFile>> asked =
          request
              .lookups()
              .file(request.form(), CoveredFields.path(state), file, request.context().record());
      if (asked.isEmpty()) {
        problems.leaveOpen(state);
        return;
      }
      Optional<Lookups.FoundFile> found = asked.get();
      Value named = new Value.Files(List.of(found.map(Lookups.FoundFile::file).orElse(file)), many);
      Optional<String> fault =
          found.isEmpty() ? Optional.of("no-such-upload") : fault(state, found.get());
      if (fault.isPresent()) {
        problems.reject(state, fault.get(), named);
        return;
      }
      known.add(found.get().file());
    }
    state.value = new Value.Files(known, many);
  }

  /** What a record has stays right. */
  private static Optional<String> fault(FieldState state, Lookups.FoundFile found) {
    if (found.file().isKnown() && found.file().upload().isEmpty()) {
      return Optional.empty();
    }
    if (found.harmful()) {
      return Optional.of("file-harmful");
    }
    return FileRules.fault(state.field, found.file(), found.endings())
        .or(() -> found.file().isKnown() ? Optional.empty() : Optional.of("no-such-upload"));
  }
}
