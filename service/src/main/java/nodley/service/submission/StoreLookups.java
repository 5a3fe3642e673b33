package nodley.service.submission;

import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import nodley.core.form.Choice;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.SourceColumn;
import nodley.core.form.SourceOptions;
import nodley.core.submission.AskQuestion;
import nodley.core.submission.AskReply;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Steps;
import nodley.core.submission.UniqueKey;
import nodley.core.value.FileRef;
import nodley.core.value.Value;
import nodley.service.ask.AskedServices;
import nodley.service.caller.Caller;
import nodley.service.source.SourceDatabases;
import nodley.service.upload.Uploading;
import nodley.store.Store;
import nodley.store.common.StoreException;

/**
 * Lookups in the store, as far as the caller may see records, and questions to services outside. A
 * record is looked up once for a submission, however often it is needed. For one thread.
 */
final class StoreLookups implements Lookups {

  private final Store store;
  private final Displays displays;
  private final Uploading uploads;
  private final AskedServices outside;
  private final SourceDatabases sources;
  private final Caller caller;
  private final Steps steps;
  private final String page;
  private List<UniqueKey> asked = List.of();
  private final Set<Integer> gone = new HashSet<>();
  private final Map<String, Optional<Display.Found>> found = new HashMap<>();

  /**
   * For one judgement.
   *
   * @param page the open page that asks, whose own holds do not count; empty if none is known
   */
  StoreLookups(
      Store store,
      Displays displays,
      Uploading uploads,
      AskedServices outside,
      SourceDatabases sources,
      Caller caller,
      Steps steps,
      String page) {
    this.uploads = uploads;
    this.outside = outside;
    this.sources = sources;
    this.page = page;
    this.steps = steps;
    this.store = store;
    this.displays = displays;
    this.caller = caller;
  }

  @Override
  public Optional<Set<Integer>> taken(Form form, List<UniqueKey> keys, Optional<String> except) {
    try {
      Set<Integer> taken =
          steps.question(
              _ -> names(keys) + ": taken?", () -> store.records().taken(form, keys, except));
      if (asked.isEmpty()) {
        asked = keys;
        gone.addAll(taken);
      }
      return Optional.of(taken);
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }

  private static String names(List<UniqueKey> keys) {
    return keys.stream().map(it -> it.unique().name()).distinct().collect(Collectors.joining(", "));
  }

  @Override
  public Set<Integer> held(Form form, List<UniqueKey> keys) {
    try {
      Set<Integer> held = store.holds().against(form, keys, page);
      if (asked == keys) {
        gone.addAll(held);
      }
      return held;
    } catch (StoreException.Unavailable e) {
      return Set.of();
    }
  }

  /** Of what was first asked about, what nobody has or holds; rows left out. */
  List<UniqueKey> free() {
    return IntStream.range(0, asked.size())
        .filter(i -> !gone.contains(i) && asked.get(i).rows().isEmpty())
        .mapToObj(asked::get)
        .toList();
  }

  @Override
  public Optional<Optional<FoundFile>> file(
      Form form, String field, FileRef file, Optional<String> record) {
    try {
      if (file.digest().isEmpty()) {
        return Optional.of(
            steps.question(
                field + ": there?", () -> uploads.find(file, form.name(), field, caller)));
      }
      return Optional.of(
          record
              .flatMap(id -> file.digest().flatMap(it -> store.records().file(form, id, field, it)))
              .map(it -> new FoundFile(it, Set.of())));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }

  @Override
  public Presence inSource(SourceColumn column, Value value, boolean ignoreCase) {
    return sources.has(column, value, ignoreCase, steps);
  }

  @Override
  public Optional<Optional<Choice>> option(SourceOptions options, String value) {
    return sources.option(options, value, steps);
  }

  @Override
  public void unanswered(String source) {
    sources.unanswered(source);
  }

  @Override
  public List<AskReply> ask(Form form, Context context, List<AskQuestion> questions) {
    return outside.ask(form, context, questions, steps);
  }

  @Override
  public Optional<Optional<Display.Found>> record(String form, String id) {
    try {
      return Optional.of(
          found.computeIfAbsent(
              form + " " + id,
              key -> steps.question(key + ": there?", () -> displays.record(form, id, caller))));
    } catch (StoreException.Unavailable e) {
      return Optional.empty();
    }
  }
}
