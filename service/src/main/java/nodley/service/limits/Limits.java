package nodley.service.limits;

import java.time.Duration;
import nodley.core.input.InputLimits;
import nodley.store.common.DraftLimits;
import nodley.store.common.StoreLimits;
import nodley.store.common.UploadLimits;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.util.unit.DataSize;

/**
 * All limits of a service: {@code nodley.limits.*}, bound by Spring at start. Immutable.
 * docs/running.md lists each with its default and the error beyond it; a test compares the two.
 */
public record Limits(
    @DefaultValue Requests request,
    @DefaultValue Connections connection,
    @DefaultValue Strangers stranger,
    @DefaultValue Reads read,
    @DefaultValue Watchers watch,
    @DefaultValue Holds hold,
    @DefaultValue Secrets secret,
    @DefaultValue Log log,
    @DefaultValue Pages page,
    @DefaultValue FormFiles form,
    @DefaultValue Uploads upload,
    @DefaultValue Drafts draft,
    @DefaultValue Removed removed) {

  public Limits {
    atLeast("request.body", request.body.toBytes(), 1_024);
    atLeast("request.header", request.header.toBytes(), 1_024);
    atLeast("request.address", request.address.toBytes(), 256);
    atLeast("request.values", request.values, 1);
    between("request.depth", request.depth, 1, 200);
    atLeast("request.time", request.time.toMillis(), 100);
    atLeast("request.speed", request.speed.toBytes(), 1);
    atLeast(
        "request.bodies",
        request.bodies.toBytes(),
        Math.max(4 * request.body.toBytes(), form.file.toBytes()));
    atLeast("request.turn", request.turn.toMillis(), 100);
    between("request.waiting", request.waiting, 1, 1_000_000);
    between("connection.total", connection.total, 1, 1_000_000);
    between("connection.per-address", connection.perAddress, 1, 1_000_000);
    atLeast("connection.idle", connection.idle.toMillis(), 100);
    atLeast("stranger.adds", stranger.adds, 1);
    atLeast("stranger.checks", stranger.checks, 1);
    atLeast("stranger.guesses", stranger.guesses, 1);
    atLeast("read.time", read.time.toMillis(), 1);
    atLeast("read.stranger-time", read.strangerTime.toMillis(), 1);
    between("read.waiting", read.waiting, 1, 100_000);
    between("read.stranger-waiting", read.strangerWaiting, 1, 100_000);
    between("watch.total", watch.total, 1, 1_000_000);
    between("watch.per-form", watch.perForm, 1, 1_000_000);
    between("watch.per-address", watch.perAddress, 1, 1_000_000);
    atLeast("watch.heartbeat", watch.heartbeat.toMillis(), 100);
    atLeast("hold.per-address", hold.perAddress, 0);
    between("secret.waiting", secret.waiting, 1, 100_000);
    atLeast("secret.per-submission", secret.perSubmission, 1);
    atLeast("secret.comparisons", secret.comparisons, 1);
    atLeast("log.attempt", log.attempt.toBytes(), 100);
    atLeast("log.form", log.form.toBytes(), 1);
    atLeast("log.total", log.total.toBytes(), 1);
    atLeast("log.rows", log.rows, 1);
    atLeast("log.per-second", log.perSecond, 1);
    atLeast("log.free-disk", log.freeDisk.toBytes(), 0);
    atLeast("page.rows", page.rows, 1);
    atLeast("page.size", page.size.toBytes(), 100_000);
    atLeast("form.file", form.file.toBytes(), 1_024);
    atLeast("upload.size", upload.size.toBytes(), 1_024);
    atLeast("upload.kept", upload.kept.toMillis(), 1_000);
    between("upload.waiting", upload.waiting, 1, 100_000);
    atLeast("upload.waiting-size", upload.waitingSize.toBytes(), upload.size.toBytes());
    atLeast("upload.total", upload.total.toBytes(), upload.waitingSize.toBytes());
    between("upload.at-once", upload.atOnce, 1, 10_000);
    atLeast("upload.speed", upload.speed.toBytes(), 1_024);
    atLeast("upload.free-disk", upload.freeDisk.toBytes(), 0);
    between("draft.count", draft.count, 1, 10_000);
    atLeast("removed.kept", removed.kept.toMillis(), 0);
    atLeast("draft.bytes", draft.bytes.toBytes(), request.body.toBytes());
  }

  /**
   * What one request may hold, and how it comes.
   *
   * @param body bytes of a submission's body; beyond: 413
   * @param header bytes of the request line and all header fields; beyond: 431
   * @param address bytes of the path and the query; beyond: 414
   * @param depth objects and arrays inside each other; beyond: 400
   * @param values names, items and pairs of one submission; beyond: 413
   * @param time in which a request comes, to which {@code speed} adds; beyond: 408
   * @param speed bytes a second: each so many that have come give a body a second more
   * @param bodies bytes of all bodies that are in memory at once, a quarter of it for strangers at
   *     one address, as much again for known callers; short bodies do not count; beyond: 503
   * @param waiting submissions that wait to be written; beyond: 503
   * @param turn how long one of them waits for its turn; beyond: 503
   */
  public record Requests(
      @DefaultValue("1MB") DataSize body,
      @DefaultValue("16KB") DataSize header,
      @DefaultValue("8KB") DataSize address,
      @DefaultValue("32") int depth,
      @DefaultValue("20000") int values,
      @DefaultValue("20s") Duration time,
      @DefaultValue("4KB") DataSize speed,
      @DefaultValue("64MB") DataSize bodies,
      @DefaultValue("1024") int waiting,
      @DefaultValue("10s") Duration turn) {

    /** Returns the limits of one submission, as the core takes them. */
    public InputLimits input() {
      return new InputLimits(depth, values);
    }
  }

  /**
   * TCP connections.
   *
   * @param total open at once, and no more than one for each 256 kB of heap; beyond, the oldest of
   *     the network with the most gives way to one of another
   * @param perAddress of one address (IPv6: of one /64) at once, unless it is a trusted proxy;
   *     further ones are closed
   * @param idle how long one may be silent before, within or after a request
   */
  public record Connections(
      @DefaultValue("8192") int total,
      @DefaultValue("1024") int perAddress,
      @DefaultValue("20s") Duration idle) {}

  /**
   * What callers who show no key may do in a minute, from one address (IPv6: from one /64). Beyond:
   * 429.
   *
   * @param adds adds and edits of one form
   * @param checks checks of one form: limits how many taken values can be found by trying
   * @param guesses wrong keys
   */
  public record Strangers(
      @DefaultValue("600") int adds,
      @DefaultValue("1200") int checks,
      @DefaultValue("30") int guesses) {}

  /**
   * Lists, searches, versions, exports.
   *
   * @param time how long one takes for a known caller; beyond: 503, or a page with {@code next}
   * @param strangerTime the same for a stranger
   * @param waiting of known callers that wait for a thread; beyond: 503
   * @param strangerWaiting of strangers that do
   */
  public record Reads(
      @DefaultValue("20s") Duration time,
      @DefaultValue("2s") Duration strangerTime,
      @DefaultValue("256") int waiting,
      @DefaultValue("32") int strangerWaiting) {}

  /**
   * Streams of changes. Known callers have as many places of their own. Beyond: 503.
   *
   * @param total of strangers at once
   * @param perForm of those, on one form
   * @param perAddress of those, from one address (IPv6: from one /64)
   * @param heartbeat after so long without an event a comment is sent, which tells a dead line
   */
  public record Watchers(
      @DefaultValue("2000") int total,
      @DefaultValue("1000") int perForm,
      @DefaultValue("100") int perAddress,
      @DefaultValue("15s") Duration heartbeat) {}

  /**
   * Unique values that are held for open pages.
   *
   * @param perAddress at once; beyond: the value is not held, and the check says so
   */
  public record Holds(@DefaultValue("20") int perAddress) {}

  /**
   * Digests of secrets.
   *
   * @param waiting that wait for a thread; beyond: 503
   * @param perSubmission in one submission; beyond: 413
   * @param comparisons with those of one record, in a minute; beyond: 429
   */
  public record Secrets(
      @DefaultValue("64") int waiting,
      @DefaultValue("20") int perSubmission,
      @DefaultValue("30") int comparisons) {}

  /**
   * The log of attempts.
   *
   * @param attempt characters of values that one attempt keeps; what is over is counted
   * @param form bytes of the attempts of one form; beyond: its oldest go
   * @param total bytes of all attempts; beyond: the oldest of the form with the most go
   * @param rows attempts altogether; beyond: the oldest of the form with the most go
   * @param perSecond attempts of one form that are logged within a second though they came to
   *     nothing; beyond: they are counted only
   * @param freeDisk where the disk has less left, refused attempts are no longer kept
   */
  public record Log(
      @DefaultValue("16KB") DataSize attempt,
      @DefaultValue("256MB") DataSize form,
      @DefaultValue("1GB") DataSize total,
      @DefaultValue("1000000") long rows,
      @DefaultValue("500") int perSecond,
      @DefaultValue("128MB") DataSize freeDisk) {}

  /**
   * Pages that draw again what was sent.
   *
   * @param rows of one field, where the form does not bound them; beyond: 413
   * @param size bytes of one page; beyond: 413
   */
  public record Pages(@DefaultValue("500") int rows, @DefaultValue("8MB") DataSize size) {}

  /**
   * What is published. How many fields, options and levels a form file may have is part of its
   * format.
   *
   * @param file bytes of a form file, list, part, theme or file of texts, or of all that are
   *     published at once; beyond: 413
   */
  public record FormFiles(@DefaultValue("16MB") DataSize file) {}

  /**
   * Files on their way to records.
   *
   * @param size bytes of one file, where its field does not bound it; beyond: 413
   * @param kept how long an upload is kept that no record takes over
   * @param waiting uploads of one person, key or browser, or of strangers at one address, that no
   *     record has taken over; beyond: 429
   * @param waitingSize bytes of those; beyond: 429
   * @param total bytes of all uploads that no record has taken over; beyond: 429
   * @param atOnce requests that bring bytes of files at the same time, a quarter of them for
   *     strangers at one address; beyond: 503
   * @param speed bytes a second that one of them may send, however many requests bring them; faster
   *     ones are slowed down
   * @param freeDisk bytes of the disk that stay free; beyond: 507
   */
  public record Uploads(
      @DefaultValue("2GB") DataSize size,
      @DefaultValue("24h") Duration kept,
      @DefaultValue("200") int waiting,
      @DefaultValue("4GB") DataSize waitingSize,
      @DefaultValue("20GB") DataSize total,
      @DefaultValue("100") int atOnce,
      @DefaultValue("64MB") DataSize speed,
      @DefaultValue("128MB") DataSize freeDisk) {

    UploadLimits store() {
      return new UploadLimits(
          kept, waitingSize.toBytes(), waiting, total.toBytes(), freeDisk.toBytes());
    }
  }

  /**
   * Unfinished submissions; strangers at one address may have ten times as much together.
   *
   * @param count drafts of one person, key or browser; beyond: 429
   * @param bytes of their values; beyond: 429
   */
  public record Drafts(@DefaultValue("100") int count, @DefaultValue("16MB") DataSize bytes) {

    DraftLimits store() {
      return new DraftLimits(count, bytes.toBytes());
    }
  }

  /**
   * Records that somebody removed.
   *
   * @param kept how long one can be put back; {@code 0}: never, it is gone for good at once
   */
  public record Removed(@DefaultValue("30d") Duration kept) {}

  /** Those that the store keeps. */
  public StoreLimits store() {
    return new StoreLimits(
        request.waiting,
        request.turn,
        hold.perAddress,
        log.rows,
        log.total.toBytes(),
        log.form.toBytes(),
        log.freeDisk.toBytes(),
        upload.store(),
        draft.store());
  }

  private static void atLeast(String name, long value, long least) {
    between(name, value, least, Long.MAX_VALUE);
  }

  private static void between(String name, long value, long least, long most) {
    if (value < least || value > most) {
      String right = most == Long.MAX_VALUE ? "at least " + least : "from " + least + " to " + most;
      throw new IllegalArgumentException(
          "nodley.limits." + name + " is " + value + "; it must be " + right + ".");
    }
  }
}
