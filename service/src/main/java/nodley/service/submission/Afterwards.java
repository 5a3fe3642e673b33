package nodley.service.submission;

import java.util.List;
import nodley.core.form.Form;
import nodley.core.form.Mode;

/** Where a page goes after an acceptance. */
public final class Afterwards {

  private Afterwards() {}

  /**
   * The address that {@code after} names.
   *
   * @param maySee whether the caller may see records; one who may not stays where the form is empty
   */
  public static String address(Form form, Mode mode, String id, boolean maySee) {
    String base = "/forms/" + form.name();
    String stay =
        form.isOne()
            ? base + "/edit"
            : mode == Mode.ADD ? base + "/new" : base + "/" + id + "/edit";
    return switch (form.after(mode).go()) {
      case "stay" -> stay;
      case String _ when form.isOne() && isOfForm(form, mode) -> maySee ? base : stay;
      case "record" -> maySee ? base + "/" + id : stay;
      case "list" -> maySee ? base : stay;
      case String address -> address;
    };
  }

  private static boolean isOfForm(Form form, Mode mode) {
    return List.of("record", "list").contains(form.after(mode).go());
  }
}
