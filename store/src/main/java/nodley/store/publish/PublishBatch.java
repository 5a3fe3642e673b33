package nodley.store.publish;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import nodley.core.file.FileName;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.Shared;
import nodley.core.file.TextsFile;
import nodley.store.common.StoreException;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;

/**
 * Publishes several files together, or none. All are read before anything is written, so that the
 * errors of every file are reported. Used once, by one thread.
 */
public final class PublishBatch {

  private final Snapshot before;
  private final List<File> files;
  private final Map<String, List<FormFileError>> errors = new LinkedHashMap<>();
  private final Map<File, PublishedForm.Source> forms = new LinkedHashMap<>();
  private final Map<File, Forms.SharedText> texts = new LinkedHashMap<>();

  /**
   * A file.
   *
   * @param name the last part of its path, which says what it is; see {@link FileName}
   */
  public record File(String name, Format format, String text) {}

  /**
   * What became of one of them.
   *
   * @param name of the form, the list, the part, the theme, or of the texts ({@code visit.de})
   * @param form the form that it is; nothing for what forms share
   */
  public record Item(
      File file,
      FileName.Kind kind,
      String name,
      FormPublisher.Change change,
      Optional<PublishedForm> form) {}

  /**
   * What became of all.
   *
   * @param items in the order of the files
   * @param tables what it did to tables, of all forms that it touches
   */
  public record Outcome(List<Item> items, FormPublisher.Outcome tables) {}

  PublishBatch(Snapshot before, List<File> files) {
    this.before = before;
    this.files = files;
  }

  Outcome publish(
      PublishTransaction publishing, FormPublisher.Manner manner, Consumer<Snapshot> then) {
    files.forEach(this::sort);
    check();
    Shared shared = shared();
    Snapshot after =
        before.withUnread(changedForms(), List.copyOf(changedTexts().values()), shared);
    readForms(after);
    readTexts(after);
    check();
    after.whole();
    FormPublisher.Outcome tables = FormPublisher.Outcome.UNCHANGED;
    Snapshot next = before;
    if (!changedForms().isEmpty() || !changedTexts().isEmpty()) {
      PublishTransaction.Written written =
          publishing.publish(
              before,
              after,
              manner,
              connection -> {
                for (PublishedForm.Source form : changedForms()) {
                  FormPublisher.keep(connection, form);
                }
                for (Forms.SharedText text : changedTexts().values()) {
                  FormPublisher.keep(connection, text);
                }
              },
              then);
      tables = written.outcome();
      next = written.snapshot();
    }
    return new Outcome(items(next), tables);
  }

  /** Finds out what a file is; of two for the same, the second is wrong. */
  private void sort(File file) {
    FileName name = FileName.of(file.name());
    if (name.kind() != FileName.Kind.FORM) {
      Forms.Kind kind = Forms.Kind.valueOf(name.kind().name());
      var text = new Forms.SharedText(kind, name.name(), file.format(), file.text());
      if (texts.values().stream()
          .anyMatch(it -> it.kind() == kind && it.name().equals(name.name()))) {
        wrong(file, "duplicate", "Another of these files is for the same.");
      } else {
        texts.put(file, text);
      }
      return;
    }
    Optional<String> form = FormFile.name(file.text(), file.format());
    if (form.isEmpty()) {
      try {
        FormFile.read(file.text(), file.format(), FormRegistry.UNKNOWN);
      } catch (FormFileException e) {
        errors.put(file.name(), e.errors());
      }
      return;
    }
    if (forms.values().stream().anyMatch(it -> it.name().equals(form.get()))) {
      wrong(file, "duplicate", "Another of these files declares form `" + form.get() + "`.");
      return;
    }
    PublishedForm earlier = before.forms().get(form.get());
    boolean same =
        earlier != null && earlier.text().equals(file.text()) && earlier.format() == file.format();
    int revision = earlier == null ? 1 : same ? earlier.revision() : earlier.revision() + 1;
    forms.put(
        file,
        new PublishedForm.Source(
            form.get(),
            revision,
            earlier == null ? 0 : earlier.edition(),
            file.format(),
            file.text()));
  }

  private void wrong(File file, String code, String detail) {
    errors.put(file.name(), List.of(new FormFileError(1, 1, "#", code, detail, Optional.empty())));
  }

  private void check() {
    if (!errors.isEmpty()) {
      throw new StoreException.BadFiles(errors);
    }
  }

  private List<PublishedForm.Source> changedForms() {
    return forms.values().stream()
        .filter(it -> change(it) != FormPublisher.Change.UNCHANGED)
        .toList();
  }

  private Map<File, Forms.SharedText> changedTexts() {
    Map<File, Forms.SharedText> changed = new LinkedHashMap<>(texts);
    changed.values().removeIf(it -> change(it) == FormPublisher.Change.UNCHANGED);
    return changed;
  }

  private FormPublisher.Change change(PublishedForm.Source form) {
    PublishedForm earlier = before.forms().get(form.name());
    if (earlier == null) {
      return FormPublisher.Change.NEW;
    }
    return earlier.revision() == form.revision()
        ? FormPublisher.Change.UNCHANGED
        : FormPublisher.Change.REVISED;
  }

  private FormPublisher.Change change(Forms.SharedText text) {
    Forms.SharedText earlier = before.texts().get(Snapshot.key(text.kind(), text.name()));
    if (earlier == null) {
      return FormPublisher.Change.NEW;
    }
    return earlier.equals(text) ? FormPublisher.Change.UNCHANGED : FormPublisher.Change.REVISED;
  }

  /** What forms share from now on; each kind may use those before it. */
  private Shared shared() {
    Shared shared = before.shared();
    for (Forms.Kind kind : Forms.Kind.values()) {
      for (Map.Entry<File, Forms.SharedText> text : texts.entrySet()) {
        if (text.getValue().kind() == kind) {
          try {
            shared = Snapshot.with(shared, text.getValue());
          } catch (FormFileException e) {
            errors.put(text.getKey().name(), e.errors());
          }
        }
      }
    }
    return shared;
  }

  private void readForms(Snapshot after) {
    for (Map.Entry<File, PublishedForm.Source> form : forms.entrySet()) {
      try {
        after.forms().get(form.getValue().name()).form();
      } catch (StoreException.Unreadable e) {
        // What is wrong in a form that it refers to is told there.
        if (e.form().equals(form.getValue().name())) {
          errors.put(form.getKey().name(), e.errors());
        }
      }
    }
  }

  /** Texts are read against their form, as it is from now on. */
  private void readTexts(Snapshot after) {
    for (Map.Entry<File, Forms.SharedText> entry : texts.entrySet()) {
      Forms.SharedText text = entry.getValue();
      Optional<TextsFile.Name> name = Snapshot.nameOf(text);
      if (name.filter(it -> !it.isOfService()).isEmpty()) {
        continue;
      }
      PublishedForm form = after.forms().get(name.get().form());
      if (form == null) {
        wrong(
            entry.getKey(),
            "unknown-name",
            "There is no form `" + name.get().form() + "`, and none of these files declares it.");
      } else if (errors.isEmpty()) {
        // Where there are errors already, its form may be what is wrong.
        try {
          TextsFile.read(
              text.text(), text.format(), form.form(), name.get().language(), after.registry());
        } catch (FormFileException e) {
          errors.put(entry.getKey().name(), e.errors());
        }
      }
    }
  }

  private List<Item> items(Snapshot next) {
    List<Item> items = new ArrayList<>();
    for (File file : files) {
      PublishedForm.Source form = forms.get(file);
      if (form != null) {
        items.add(
            new Item(
                file,
                FileName.Kind.FORM,
                form.name(),
                change(form),
                Optional.of(next.forms().get(form.name()))));
      } else {
        Forms.SharedText text = texts.get(file);
        FileName.Kind kind = FileName.Kind.valueOf(text.kind().name());
        items.add(new Item(file, kind, text.name(), change(text), Optional.empty()));
      }
    }
    return items;
  }
}
