package nodley.service.submission;

import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import nodley.core.form.After;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Template;
import nodley.store.common.StoredRecord;

/**
 * Computes where a page goes after an accepted submission: to the address that the form names,
 * filled in from the record, or to the record itself. Addresses of other sites are gone to only as
 * the form file has them. Stateless.
 */
public final class Afterwards {

  private Afterwards() {}

  /**
   * The address that {@code after} names. It is always one that can be gone to: what follows an
   * acceptance never turns it into an error.
   *
   * @param maySee whether the caller may see records; one who may not stays where the form is empty
   */
  public static String address(Form form, Mode mode, StoredRecord record, boolean maySee) {
    String id = record.id();
    String base = "/forms/" + form.name();
    String stay =
        form.isOne() || form.isOneEach() && mode == Mode.ADD
            ? base + "/edit"
            : mode == Mode.ADD ? base + "/new" : base + "/" + id + "/edit";
    return switch (form.after(mode).go().text()) {
      case "stay" -> stay;
      case String _ when form.isOne() && isOfForm(form, mode) -> maySee ? base : stay;
      case "record" -> maySee ? base + "/" + id : stay;
      case "list" -> maySee ? base : stay;
      case String _ -> {
        String address = filled(form.after(mode).go(), record);
        yield canBeGoneTo(address) ? address : stay;
      }
    };
  }

  /** Values stand in it in standard form, percent-encoded (RFC 3986, section 2.1). */
  private static String filled(Template address, StoredRecord record) {
    return address.fill(
        name -> {
          String value =
              name.equals(After.ID)
                  ? record.id()
                  : record.values().at(List.of(name.split("\\."))).shown();
          return URLEncoder.encode(value, StandardCharsets.UTF_8).replace("+", "%20");
        });
  }

  private static boolean canBeGoneTo(String address) {
    try {
      URI.create(address);
      return true;
    } catch (IllegalArgumentException e) {
      return false;
    }
  }

  private static boolean isOfForm(Form form, Mode mode) {
    return List.of("record", "list").contains(form.after(mode).go().text());
  }
}
