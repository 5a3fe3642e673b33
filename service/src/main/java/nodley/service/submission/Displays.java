package nodley.service.submission;

import java.time.Clock;
import java.util.Optional;
import nodley.core.form.Access;
import nodley.core.form.Display;
import nodley.core.form.SourceOptions;
import nodley.core.submission.Context;
import nodley.service.caller.Authorization;
import nodley.service.caller.Caller;
import nodley.service.source.SourceDatabases;
import nodley.store.Store;
import org.springframework.stereotype.Component;

/**
 * Provides what a submission is judged and displayed with for its caller: the clock, the sender,
 * and records of other forms as far as the caller may see them. Thread-safe.
 */
@Component
public final class Displays {

  private final Store store;
  private final SourceDatabases sources;
  private final Clock clock;

  Displays(Store store, SourceDatabases sources, Clock clock) {
    this.sources = sources;
    this.store = store;
    this.clock = clock;
  }

  /** Display texts that reach as far as the caller may see. */
  public Display of(Caller caller) {
    return Display.with(
        new Display.Records() {
          @Override
          public Optional<Display.Found> find(String form, String id) {
            return record(form, id, caller);
          }

          @Override
          public Optional<String> label(SourceOptions options, String value) {
            return sources.label(options, value);
          }
        });
  }

  /** A record that the caller may not see is as good as none: its being there is not told. */
  Optional<Display.Found> record(String form, String id, Caller caller) {
    return store
        .forms()
        .find(form)
        .map(it -> Authorization.seen(it, caller))
        .filter(other -> Authorization.maySeeSome(caller, other.form()))
        .flatMap(
            other ->
                store
                    .records()
                    .find(other.form(), id)
                    .filter(it -> Authorization.may(caller, other.form(), Access::see, it))
                    .map(
                        it ->
                            new Display.Found(
                                other.form(), other.form().fields().known(it.values()))));
  }

  /** The context of an add at this moment. */
  public Context context(Caller caller) {
    Context.Sender sender =
        caller instanceof Caller.Known known
            ? new Context.Sender(
                known.displayName(), known.email(), known.roles().stream().sorted().toList())
            : Context.Sender.NOBODY;
    return Context.add(clock).by(sender);
  }
}
