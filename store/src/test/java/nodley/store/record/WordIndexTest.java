package nodley.store.record;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import nodley.core.submission.RecordSink;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.care.Doctor;
import nodley.store.common.StoredRecord;
import nodley.store.folder.DataFolder;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Words of records are found at once, whenever they are put into the index. */
class WordIndexTest {

  private static final String BOAT = "form: boat\nfields: { name: { type: text } }\n";
  private static final List<String> WORDS = List.of("heron", "tern", "petrel", "gull", "teal");

  @TempDir private Path folder;
  private Store store;

  @BeforeEach
  void open() {
    store = Store.open(folder.resolve("data"));
    TestSubmissions.publish(store, BOAT, FormPublisher.Manner.CAREFUL);
  }

  @AfterEach
  void close() {
    store.close();
  }

  private void reopen() {
    store.close();
    store = Store.open(folder.resolve("data"));
  }

  private PublishedForm boat() {
    return store.forms().find("boat").orElseThrow();
  }

  private static Values named(String name) {
    return new Values(Map.of("name", new Value.Text(name)));
  }

  private StoredRecord add(String name) {
    return ((RecordSink.Kept<StoredRecord>) TestSubmissions.add(store, boat(), named(name)))
        .record();
  }

  private StoredRecord edit(StoredRecord record, String name) {
    return ((RecordSink.Kept<StoredRecord>)
            TestSubmissions.edit(store, boat(), record.id(), record.version(), named(name), "ann"))
        .record();
  }

  private List<String> found(String words) {
    return store.records().list(boat().form(), Listing.newest(words, 1_000)).records().stream()
        .map(StoredRecord::id)
        .toList();
  }

  /** Beside a model that looks at all texts: two thousand steps in any order, and restarts. */
  @Test
  void whatIsFoundIsWhatIsThere() {
    Random random = new Random(11);
    Map<String, StoredRecord> records = new LinkedHashMap<>();
    Map<String, String> names = new LinkedHashMap<>();
    for (int step = 0; step < 2_000; step++) {
      String name = WORDS.get(random.nextInt(5)) + " " + WORDS.get(random.nextInt(5)) + step;
      List<StoredRecord> all = new ArrayList<>(records.values());
      int what = all.isEmpty() ? 0 : random.nextInt(100);
      // Half of what is edited or removed is the latest, which may not be indexed yet.
      StoredRecord one =
          all.isEmpty()
              ? null
              : all.get(random.nextBoolean() ? all.size() - 1 : random.nextInt(all.size()));
      if (what < 45) {
        StoredRecord added = add(name);
        records.put(added.id(), added);
        names.put(added.id(), name);
      } else if (what < 65) {
        records.put(one.id(), edit(one, name));
        names.put(one.id(), name);
      } else if (what < 85) {
        store.recordWriter().remove(boat().form(), one.id(), one.version());
        records.remove(one.id());
        names.remove(one.id());
      } else if (what < 97) {
        String word = WORDS.get(random.nextInt(5));
        List<String> expected =
            names.entrySet().stream()
                .filter(it -> it.getValue().contains(word))
                .map(Map.Entry::getKey)
                .toList()
                .reversed();
        assertThat(found(word)).as("step " + step).isEqualTo(expected);
      } else {
        reopen();
      }
    }
  }

  @Test
  void whoeverWasAnsweredIsFoundWhileOthersWrite() throws Exception {
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Callable<List<String>>> work =
          IntStream.range(0, 16)
              .<Callable<List<String>>>mapToObj(thread -> () -> addedEditedAndLost(thread))
              .toList();
      for (Future<List<String>> each : threads.invokeAll(work)) {
        assertThat(each.get()).isEmpty();
      }
    }
  }

  /** What was not found as it should be. */
  private List<String> addedEditedAndLost(int thread) {
    List<String> wrong = new ArrayList<>();
    for (int turn = 0; turn < 25; turn++) {
      String first = "a" + thread + "x" + turn + "z";
      String second = "b" + thread + "x" + turn + "z";
      StoredRecord record = add(first);
      if (turn % 2 == 0 && !found(first).equals(List.of(record.id()))) {
        wrong.add("added " + first);
      }
      StoredRecord edited = edit(record, second);
      if (!found(first).isEmpty() || !found(second).equals(List.of(record.id()))) {
        wrong.add("edited " + second);
      }
      store.recordWriter().remove(boat().form(), edited.id(), edited.version());
      if (!found(second).isEmpty()) {
        wrong.add("removed " + second);
      }
    }
    return wrong;
  }

  @Test
  void aCopyMadeJustAfterAnAddIsSoundAndFindsIt() throws Exception {
    List<String> ids = IntStream.range(0, 400).mapToObj(i -> add("heron " + i).id()).toList();
    Path copy = Files.createDirectory(folder.resolve("copy"));
    store.backUp(copy.resolve(DataFolder.FILE));
    assertThat(Doctor.look(copy, Clock.systemUTC()))
        .allSatisfy(it -> assertThat(it.isWell()).isTrue());
    store.close();
    store = Store.open(copy);
    assertThat(found("heron")).isEqualTo(ids.reversed());
  }
}
