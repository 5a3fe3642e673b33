package nodley.service.publish;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileError;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.file.TextsFile;
import nodley.store.access.OperatorLog;
import nodley.store.common.StoreException;
import nodley.store.form.Forms;
import nodley.store.publish.FormFolder;
import nodley.store.publish.FormPublisher;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.util.DigestUtils;

/**
 * Watches the forms folder: a file is published whenever its text differs from what was last read
 * there; in between, what is published over the wire stands. A file with errors is told in the log
 * and changes nothing; it is tried again when it, or a form that it may wait for, has changed.
 */
public final class FolderWatch implements AutoCloseable {

  private static final Logger LOG = LoggerFactory.getLogger(FolderWatch.class);
  private static final long SECONDS = 1;

  /** So far down it is looked for what is passed over. */
  private static final int DEEPEST = 3;

  private static final int MOST_TOLD = 20;
  private static final Pattern NAME =
      Pattern.compile("(.*)\\.(form|list|part|theme)\\.(ya?ml|json)");
  private static final Pattern TEXTS = Pattern.compile("(.*\\..*)\\.(ya?ml|json)");

  private final OperatorLog log;
  private final Path folder;
  private final FormFolder memory;
  private final Publisher publisher;
  private final Map<String, String> failed = new HashMap<>();
  private final Map<String, String> reasons = new HashMap<>();

  /** Files that are passed over, each told once. */
  private final Set<Path> doubles = new HashSet<>();

  private final ScheduledExecutorService timer =
      Executors.newSingleThreadScheduledExecutor(Thread.ofPlatform().daemon().factory());

  /**
   * Watches a folder of form files.
   *
   * @param memory what was read of it before the service was last stopped
   */
  public FolderWatch(Path folder, FormFolder memory, Publisher publisher, OperatorLog log) {
    this.log = log;
    this.folder = folder;
    this.memory = memory;
    this.publisher = publisher;
  }

  /** Reads the folder now, and then every second. */
  public void start() {
    read();
    tell();
    var _ = timer.scheduleWithFixedDelay(this::read, SECONDS, SECONDS, TimeUnit.SECONDS);
  }

  /** Says what was found, and what looks like a form and is passed over all the same. */
  private void tell() {
    try (Stream<Path> below = Files.walk(folder, DEEPEST)) {
      List<Path> found = files();
      Map<String, Long> kinds =
          found.stream()
              .collect(
                  Collectors.groupingBy(FolderWatch::kindOf, TreeMap::new, Collectors.counting()));
      String counted =
          kinds.entrySet().stream()
              .map(
                  it ->
                      it.getValue()
                          + " "
                          + it.getKey()
                          + (it.getValue() == 1 || it.getKey().equals("texts") ? "" : "s"))
              .collect(Collectors.joining(", "));
      LOG.info("{}: {}", folder, counted.isEmpty() ? "no forms" : counted);
      below
          .filter(it -> Files.isRegularFile(it) && it.toString().matches(".*\\.(ya?ml|json)"))
          .filter(it -> !found.contains(it) && !doubles.contains(it))
          .limit(MOST_TOLD)
          .forEach(it -> LOG.warn("{} is passed over: {}", it, why(it)));
    } catch (IOException | UncheckedIOException e) {
      LOG.warn("The forms folder {} cannot be read: {}", folder, e.getMessage());
    }
  }

  private String why(Path file) {
    return kindOf(file).isEmpty()
        ? "its name does not say what it is, as vessel.form.yaml, rigs.list.yaml and vessel.de.yaml"
            + " do"
        : "folders in the forms folder are not read, but for lists, parts, themes and texts";
  }

  /** Goes over the files until no more can be published: a form may wait for one that it names. */
  private void read() {
    try {
      boolean published = true;
      Set<String> done = new HashSet<>();
      while (published) {
        published = false;
        for (Path file : files()) {
          // One that changes under the reading is read again the next time.
          if (!done.contains(file.getFileName().toString()) && read(file)) {
            done.add(file.getFileName().toString());
            published = true;
          }
        }
        if (published) {
          failed.clear();
        }
      }
      reasons.forEach((file, reason) -> LOG.warn("{} is not published:\n{}", file, reason));
    } catch (IOException | UncheckedIOException e) {
      LOG.warn("The forms folder {} cannot be read: {}", folder, e.getMessage());
    } catch (StoreException e) {
      LOG.warn("The forms folder waits: {}", e.getMessage());
    } catch (RuntimeException | Error e) {
      // Thrown on, it would end the watching without a word.
      LOG.error("The forms folder {} cannot be followed just now", folder, e);
    } finally {
      reasons.clear();
    }
  }

  /** Lists, parts and themes go before the forms that may use them, and texts after. */
  private List<Path> files() throws IOException {
    List<Path> found = new ArrayList<>();
    for (String kind : List.of("list", "part", "theme")) {
      found.addAll(files(folder, kind));
      found.addAll(filesNear(kind + "s", kind));
    }
    found.addAll(files(folder, "form"));
    found.addAll(files(folder, "texts"));
    found.addAll(filesNear("texts", "texts"));
    return withoutDoubles(found);
  }

  /** Of files of one name, the first: they would be published in turns for ever. */
  private List<Path> withoutDoubles(List<Path> found) {
    Map<String, Path> byName = new LinkedHashMap<>();
    for (Path file : found) {
      Path first = byName.putIfAbsent(file.getFileName().toString(), file);
      if (first != null && doubles.add(file)) {
        LOG.warn("{} is not read, for there is {} already: give it another name.", file, first);
      }
    }
    return List.copyOf(byName.values());
  }

  /** The files of a folder of this name in the forms folder, and beside it. */
  private List<Path> filesNear(String name, String kind) throws IOException {
    List<Path> found = new ArrayList<>();
    for (Path near : List.of(folder.resolve(name), folder.resolveSibling(name))) {
      if (Files.isDirectory(near)) {
        found.addAll(files(near, kind));
      }
    }
    return found;
  }

  private static List<Path> files(Path folder, String kind) throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.filter(file -> kindOf(file).equals(kind)).sorted().toList();
    }
  }

  /**
   * What a file says it is by its name: {@code visit.form.yaml} is a form, {@code visit.de.yaml}
   * its texts in German.
   */
  private static String kindOf(Path file) {
    Matcher name = NAME.matcher(file.getFileName().toString());
    return name.matches() ? name.group(2) : textsName(file).isEmpty() ? "" : "texts";
  }

  private static String textsName(Path file) {
    Matcher name = TEXTS.matcher(file.getFileName().toString());
    return name.matches() && TextsFile.name(name.group(1)).isPresent() ? name.group(1) : "";
  }

  private boolean read(Path file) throws IOException {
    String name = file.getFileName().toString();
    byte[] bytes = Files.readAllBytes(file);
    String digest = DigestUtils.md5DigestAsHex(bytes);
    if (digest.equals(failed.get(name))
        || memory.lastRead(name).filter(digest::equals).isPresent()) {
      return false;
    }
    try {
      String text = FormFile.decode(bytes);
      String outcome = publish(file, text, Format.ofFile(name));
      memory.remember(name, digest);
      reasons.remove(name);
      LOG.info("{}: {}", name, outcome);
      log.addLater("folder", "publish", name, "");
      return true;
    } catch (FormFileException e) {
      fail(
          name,
          digest,
          String.join("\n", e.errors().stream().map(FormFileError::toString).toList()));
    } catch (StoreException.Breaks | StoreException.NoForm e) {
      fail(name, digest, e.getMessage());
    } catch (StoreException.MigrationConflict e) {
      fail(
          name,
          digest,
          String.join(
              "\n", e.objections().stream().map(StoreException.Objection::toString).toList()));
    }
    return false;
  }

  private String publish(Path file, String text, Format format) throws FormFileException {
    String kind = kindOf(file);
    if (kind.equals("form")) {
      FormPublisher.Published published =
          publisher.publish(text, format, publisher.registry(), FormPublisher.Manner.CAREFUL);
      return "revision " + published.form().revision();
    }
    String name = file.getFileName().toString().replaceFirst("\\.(list|part|theme)\\..*", "");
    Forms.SharedText shared =
        switch (kind) {
          case "list" -> new Forms.SharedText(Forms.Kind.LIST, name, format, text);
          case "part" -> new Forms.SharedText(Forms.Kind.PART, name, format, text);
          case "theme" -> new Forms.SharedText(Forms.Kind.THEME, name, format, text);
          default -> new Forms.SharedText(Forms.Kind.TEXTS, textsName(file), format, text);
        };
    return publisher.share(shared, FormPublisher.Manner.CAREFUL).change().word();
  }

  private void fail(String name, String digest, String reason) {
    failed.put(name, digest);
    reasons.put(name, reason);
  }

  @Override
  public void close() {
    timer.shutdownNow();
  }
}
