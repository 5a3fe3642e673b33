package nodley.store.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.IntConsumer;
import nodley.store.Store;
import nodley.store.TestDatabase;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Ten thousand people, and as many keys: all are known at once, and after a restart. */
class ManyAccessTest {

  private static final int MANY = 10_000;
  private static final int AT_ONCE = 64;

  @TempDir private Path folder;
  private Database database;
  private BatchWriter writer;
  private final SessionCache sessions = new SessionCache();

  @BeforeEach
  void open() throws SQLException {
    Store.open(folder).close();
    database = TestDatabase.open(folder.resolve(DataFolder.FILE));
    writer = new BatchWriter(database.writer());
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  private Keys keys() {
    return new Keys(database, writer, sessions, Clock.systemUTC());
  }

  private People people() {
    return new People(database, writer, sessions, Clock.systemUTC());
  }

  private static void each(IntConsumer task) {
    try (ExecutorService threads = Executors.newFixedThreadPool(AT_ONCE)) {
      for (int i = 0; i < MANY; i++) {
        int number = i;
        threads.submit(() -> task.accept(number));
      }
    }
  }

  @Test
  void keysAreFoundByTheirSecretsAndNames() {
    Keys keys = keys();
    keys.setFirst("first");
    Map<Integer, String> secrets = new ConcurrentHashMap<>();
    each(
        i ->
            keys.make("key-%05d".formatted(i), Set.of("clerk"), Set.of(), Optional.empty())
                .ifPresent(secret -> secrets.put(i, secret)));
    assertThat(secrets).hasSize(MANY);
    assertThat(keys.end("key-00042")).isEqualTo(Keys.Ending.ENDED);
    assertThat(keys.end("key-00042")).isEqualTo(Keys.Ending.NO_SUCH_KEY);
    for (Keys known : new Keys[] {keys, keys()}) {
      assertThat(known.all()).hasSize(MANY);
      assertThat(known.names()).isSorted().doesNotContain("key-00042");
      assertThat(known.find(secrets.get(42))).isEmpty();
      assertThat(known.find(secrets.get(9_999))).map(Key::name).contains("key-09999");
      assertThat(known.named("key-00041")).isPresent();
    }
    assertThat(keys.make("key-00042", Set.of(), Set.of(), Optional.empty())).isPresent();
    assertThat(keys.make("key-00041", Set.of(), Set.of(), Optional.empty())).isEmpty();
  }

  @Test
  void peopleAreFoundByTheirNamesAndAddresses() {
    People people = people();
    each(
        i ->
            people.add(
                "Person %05d".formatted(i), "p%05d@harbour.example".formatted(i), Set.of("clerk")));
    for (People known : new People[] {people, people()}) {
      assertThat(known.all()).hasSize(MANY).extracting(Person::name).isSorted();
      assertThat(known.named("pERSON 04999")).map(Person::name).contains("Person 04999");
      assertThat(known.login("P09999@HARBOUR.example")).isPresent();
    }
    assertThat(people.add("person 00007", "", Set.of())).isInstanceOf(People.Outcome.Taken.class);
  }
}
