package nodley.core.form;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Layout of the pages of a form, and their texts besides those of fields.
 *
 * @param intro stands under the title; empty if nothing does
 * @param layout empty for that of the theme
 * @param sections all fields, in order, under titles; empty if the form has none
 * @param stepped true if each section is a step with a page of its own
 * @param add what the button says that adds; empty for Nodley's own word
 * @param edit what the button says that saves an edit
 * @param origins the sites whose pages may call, as an {@code Origin} header names them
 * @param frames the sites whose pages may show this form's pages in a frame
 * @param theme the name of the theme that they wear; empty for the service's
 * @param trap true if pages for strangers have a field for programs that fill in every field
 */
public record Pages(
    String intro,
    Optional<Layout> layout,
    List<Section> sections,
    boolean stepped,
    Optional<String> add,
    Optional<String> edit,
    List<String> origins,
    List<String> frames,
    Optional<String> theme,
    boolean trap) {

  /** The name of the page that follows the last step. */
  public static final String OVERVIEW = "overview";

  /** Where labels and fields stand. */
  public enum Layout {
    /** Each label above its control, one field under the other. */
    STACKED,
    /** Labels at the side of their controls. */
    SIDE,
    /** Fields beside each other, as far as there is room. */
    INLINE,
    /** Two columns, where there is room. */
    COLUMNS;

    /** Returns the word for it in form files. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Returns the one that a word of a form file means; empty for another word. */
    public static Optional<Layout> of(String word) {
      return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
    }
  }

  /** Fields under a title of their own. */
  public record Section(String name, String title, List<String> fields) {
    public Section {
      fields = List.copyOf(fields);
    }
  }

  public Pages {
    sections = List.copyOf(sections);
    origins = List.copyOf(origins);
    frames = List.copyOf(frames);
  }

  /** What the button says that sends; empty for Nodley's own word. */
  public Optional<String> button(Mode mode) {
    return mode == Mode.ADD ? add : edit;
  }
}
