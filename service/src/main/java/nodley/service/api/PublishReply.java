package nodley.service.api;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.util.List;
import nodley.store.common.StoreException.Objection;
import nodley.store.publish.FormPublisher;
import nodley.store.publish.TableChange;

/**
 * What publishing a file did, or would do.
 *
 * @param change {@code new}, {@code revised} or {@code unchanged}
 */
record PublishReply(String change, @JsonUnwrapped Tables tables) {

  static PublishReply of(FormPublisher.Outcome outcome) {
    return new PublishReply(outcome.change().word(), Tables.of(outcome));
  }

  /**
   * What is done to the tables of forms.
   *
   * @param objections why it cannot be done
   * @param fallsShort the stored records that new rules refuse, until they are changed
   */
  record Tables(List<Change> changes, List<Objection> objections, List<Objection> fallsShort) {

    static Tables of(FormPublisher.Outcome outcome) {
      return new Tables(
          outcome.changes().stream().map(Change::of).toList(),
          outcome.objections(),
          outcome.fallsShort());
    }
  }

  /**
   * A change of a table.
   *
   * @param field its dotted path
   * @param detail a sentence for the developer
   */
  record Change(String form, String field, String change, String detail) {

    static Change of(TableChange change) {
      return new Change(change.form(), change.field(), change.kind().word(), change.detail());
    }
  }
}
