package nodley.service.api;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import nodley.core.form.Access;
import nodley.core.name.Near;
import nodley.store.Store;
import nodley.store.access.Roles;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import org.springframework.stereotype.Component;

/** Warns of roles to which no form gives anything: each is for a form to come, or misspelt. */
@Component
final class RoleWarnings {

  private final Forms forms;

  RoleWarnings(Store store) {
    this.forms = store.forms();
  }

  /** Returns a sentence for each such role. */
  List<String> of(Set<String> roles) {
    Set<String> given = new TreeSet<>(Roles.BUILT_IN);
    for (PublishedForm form : forms.all()) {
      Access access = form.form().access();
      Stream.of(access.add(), access.see(), access.edit(), access.remove())
          .forEach(who -> given.addAll(who.words()));
    }
    given.removeAll(Access.Who.RESERVED);
    List<String> warnings = new ArrayList<>();
    for (String role : new TreeSet<>(roles)) {
      if (!given.contains(role)) {
        warnings.add(
            "No form gives anything to the role \""
                + role
                + "\"."
                + Near.to(role, given).map(near -> " Did you mean \"" + near + "\"?").orElse(""));
      }
    }
    return warnings;
  }
}
