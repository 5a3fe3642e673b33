package nodley.core.file;

import static nodley.core.file.KeySet.key;
import static nodley.core.file.KeySet.text;
import static nodley.core.file.SchemaParts.FLAG;
import static nodley.core.file.SchemaParts.NAMES;
import static nodley.core.file.SchemaParts.TEXT;
import static nodley.core.file.SchemaParts.WORDS;
import static nodley.core.file.SchemaParts.anyOf;
import static nodley.core.file.SchemaParts.both;
import static nodley.core.file.SchemaParts.listOf;
import static nodley.core.file.SchemaParts.mapOf;
import static nodley.core.file.SchemaParts.needs;
import static nodley.core.file.SchemaParts.oneOf;
import static nodley.core.file.SchemaParts.ref;

import java.util.List;
import java.util.Map;
import nodley.core.form.Form;
import nodley.core.form.Pages;

/**
 * The table of the keys of a form file, but for those of fields ({@link FieldKeys}): the reader
 * allows them, the JSON Schema for editors lists them, and texts files have those that are texts.
 */
final class FormKeys {

  /** What the names of forms, sections and other files look like. */
  static final String NAME = "[a-z][a-z0-9-]{0,39}";

  static final KeySet TITLE =
      KeySet.of("`title`", text("add", TEXT), text("edit", TEXT), text("list", TEXT));

  static final KeySet ACCESS =
      KeySet.of(
          "`access`",
          key("add", WORDS),
          key("see", WORDS),
          key("edit", WORDS),
          key("remove", WORDS));

  static final KeySet BUTTONS = KeySet.of("`buttons`", text("add", TEXT), text("edit", TEXT));

  static final KeySet SECTION = KeySet.of("A section", text("title", TEXT), key("fields", NAMES));

  static final KeySet PACE = KeySet.of("`pace`", key("add", TEXT), key("check", TEXT));

  static final KeySet DRAFT =
      KeySet.of("`draft`", key("keep", TEXT), key("who", oneOf(List.of("own", "joint"))));

  static final KeySet DELIVER =
      KeySet.of(
          "A delivery",
          key("to", Map.of("type", "string", "pattern", "^" + NAME + "$")),
          key("on", WORDS),
          key("when", SchemaParts.CONDITION),
          key("values", NAMES));

  static final KeySet OPTIONS_FROM =
      KeySet.of(
          "Options from a table",
          key("from", WORDS),
          key("value", TEXT),
          key("label", TEXT),
          key("sort", TEXT),
          key("where", TEXT));

  static final KeySet CONFIRM =
      KeySet.of("`confirm`", key("within", TEXT), key("else", oneOf(List.of("keep", "remove"))));

  /** Whom a field asks. */
  static final KeySet ASK =
      KeySet.of(
          "`ask`",
          key("of", Map.of("type", "string", "pattern", "^" + NAME + "$")),
          key("sends", WORDS),
          key("on", oneOf(List.of("leaving", "submit"))));

  /** Whom a form asks as a whole. */
  static final KeySet ASK_OF_FORM =
      KeySet.of(
          "A question",
          key("of", Map.of("type", "string", "pattern", "^" + NAME + "$")),
          key("sends", WORDS),
          key("on", oneOf(List.of("submit"))));

  static final KeySet STEP =
      KeySet.of(
          "A step", text("title", TEXT), key("fields", NAMES), key("shown", SchemaParts.CONDITION));

  static final KeySet FORGET = KeySet.of("`forget`", key("blank", NAMES));

  static final KeySet AFTER_ADD =
      KeySet.of("`after` of an add", key("go", TEXT), text("say", TEXT), key("clear", WORDS));

  static final KeySet AFTER_EDIT =
      KeySet.of("`after` of an edit", key("go", TEXT), text("say", TEXT));

  static final KeySet AFTER =
      KeySet.of("`after`", text("add", AFTER_ADD.schema()), text("edit", AFTER_EDIT.schema()));

  /** A key alone is enough, which is null in YAML. */
  static final Map<String, Object> FLAG_OR_ALONE = SchemaParts.types("boolean", "null");

  static final KeySet UNIQUE =
      KeySet.of(
          "A `unique` of the form",
          key("fields", NAMES),
          key("at", TEXT),
          key("ignore-case", FLAG_OR_ALONE),
          key("when", TEXT),
          key("early", FLAG),
          key("hold", FLAG));

  static final KeySet LINK = KeySet.of("`link`", text("text", TEXT), text("href", TEXT));

  static final KeySet SENTENCE =
      KeySet.of("A sentence", text("text", TEXT), text("link", LINK.schema()));

  static final KeySet RULE =
      KeySet.of(
          "A rule",
          key("must", SchemaParts.CONDITION),
          key("use", TEXT),
          key("at", TEXT),
          text("say", ref("sentence")));

  static final KeySet RULE_OF_PART =
      KeySet.of(
          "A rule that uses a part",
          key("use", TEXT),
          key("with", Map.of("type", "object")),
          key("at", TEXT),
          text("say", ref("sentence")));

  static final KeySet FORM =
      KeySet.of(
          "A form",
          key("form", Map.of("type", "string", "pattern", "^" + NAME + "$")),
          text("title", anyOf(TEXT, TITLE.schema())),
          text("intro", TEXT),
          text("called", TEXT),
          key("records", oneOf(Form.Records.values(), Form.Records::word)),
          key("zone", TEXT),
          key("access", ACCESS.schema()),
          text("fields", ref("fields")),
          key("unique", listOf(both(UNIQUE.schema(), needs("fields")))),
          text("rules", ref("rules")),
          key("origins", NAMES),
          key("frames", NAMES),
          text("buttons", BUTTONS.schema()),
          key("layout", oneOf(Pages.Layout.values(), Pages.Layout::word)),
          key("theme", TEXT),
          key("trap", FLAG),
          key("keep-for", TEXT),
          key("forget", anyOf(oneOf(List.of("remove", "keep")), FORGET.schema())),
          key("pace", PACE.schema()),
          key("deliver", listOf(both(DELIVER.schema(), needs("to")))),
          key("asks", listOf(both(ASK_OF_FORM.schema(), needs("of")))),
          key("draft", anyOf(DRAFT.schema(), SchemaParts.types("null"))),
          text("sections", mapOf(both(SECTION.schema(), needs("fields")))),
          text("steps", mapOf(both(STEP.schema(), needs("fields")))),
          text("after", AFTER.schema()));

  private FormKeys() {}
}
