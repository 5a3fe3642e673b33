package nodley.core.file;

import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Confirmation;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;

/**
 * Reads {@code confirm} of an e-mail field. Whether mails can be sent the service knows, and not
 * the form file.
 */
final class ConfirmReader {

  private static final Period USUAL = Period.ofDays(2);

  private final Section keys;
  private final FormRegistry registry;

  ConfirmReader(Section keys, FormRegistry registry) {
    this.keys = keys;
    this.registry = registry;
  }

  /** That of a field; its path begins at the fields beside it. */
  Optional<Confirmation> ofField(String name) {
    if (!keys.has("confirm")) {
      return Optional.empty();
    }
    Optional<Confirmation> read;
    if (keys.node("confirm").orElse(null) instanceof Node.Mapping) {
      Section section = keys.section("confirm").orElseThrow();
      section.allow(FormKeys.CONFIRM);
      Period within = RetentionReader.time(section, "within").orElse(USUAL);
      boolean remove = section.word("else", "keep", "remove").filter("remove"::equals).isPresent();
      read = Optional.of(new Confirmation(List.of(name), within, remove));
    } else {
      read =
          keys.bool("confirm")
              .filter(it -> it)
              .map(_ -> new Confirmation(List.of(name), USUAL, false));
    }
    read.ifPresent(_ -> check());
    return read;
  }

  private void check() {
    if (keys.bool("kept").filter(it -> !it).isPresent()) {
      keys.bad(
          "confirm", "bad-value", "What is not kept is not confirmed: leave `kept: false` out.");
    }
    registry
        .outside()
        .filter(it -> !it.sendsConfirmations())
        .ifPresent(
            _ ->
                keys.bad(
                    "confirm",
                    "bad-value",
                    "`confirm` sends a mail with a link, and the settings of the service lack"
                        + " nodley.mail.host, by which mails go, or nodley.mail.links, to which"
                        + " they lead."));
  }

  /** That of a form: of one of its fields, with its path from the form. */
  Optional<Confirmation> only(Fields fields) {
    List<Confirmation> found = new ArrayList<>();
    collect(fields, List.of(), found);
    if (found.size() > 1) {
      keys.bad(
          "fields",
          "bad-value",
          "One field of a form is confirmed; here are %d: %s."
              .formatted(
                  found.size(),
                  String.join(
                      ", ",
                      found.stream().map(it -> "`" + String.join(".", it.at()) + "`").toList())));
    }
    return found.stream().findFirst();
  }

  private void collect(Fields fields, List<String> groups, List<Confirmation> found) {
    for (Field field : fields) {
      field
          .confirm()
          .map(it -> new Confirmation(FieldPaths.join(groups, it.at()), it.within(), it.remove()))
          .ifPresent(found::add);
      if (field.type() == Type.GROUP) {
        collect(field.fields(), FieldPaths.join(groups, List.of(field.name())), found);
      } else if (field.type() == Type.ROWS
          && Form.every(field.fields()).stream().anyMatch(it -> it.field().confirm().isPresent())) {
        keys.bad(
            "fields",
            "bad-value",
            "`"
                + field.name()
                + "` has a `confirm` inside its rows: only one address of a record is"
                + " confirmed, outside of rows.");
      }
    }
  }
}
