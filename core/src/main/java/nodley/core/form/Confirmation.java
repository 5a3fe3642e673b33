package nodley.core.form;

import java.time.Period;
import java.util.List;

/**
 * The e-mail address of a record that whoever reads its mail confirms, by a link that is mailed
 * there.
 *
 * @param at the path of the field, behind those of the groups around it
 * @param within how long the link is good for
 * @param remove true if a record whose address nobody has confirmed until then is removed
 */
public record Confirmation(List<String> at, Period within, boolean remove) {

  public Confirmation {
    at = List.copyOf(at);
  }
}
