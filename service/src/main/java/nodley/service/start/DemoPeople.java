package nodley.service.start;

import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import nodley.service.people.Passwords;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.access.Roles;

/**
 * People of Marrow Quay: the harbour master, a clerk, two skippers; with passwords made up anew.
 */
final class DemoPeople {

  private static final List<String> WORDS =
      List.of(
          "anchor", "barge", "beacon", "buoy", "cable", "cove", "crane", "dinghy", "ebb", "eddy",
          "ferry", "gull", "harbour", "heron", "island", "jetty", "keel", "ladder", "lantern",
          "mast", "mooring", "oar", "pilot", "quay", "reef", "rudder", "sail", "shoal", "signal",
          "spray", "tern", "tide");

  private static final int WORDS_EACH = 5;

  private DemoPeople() {}

  /** Somebody who was added, and the password that is shown this once. */
  record Added(String name, String role, String password) {}

  /** Adds those who are not there yet. */
  static List<Added> add(Service service) {
    People people = service.part(Store.class).people();
    Passwords passwords = service.part(Passwords.class);
    List<Added> added = new ArrayList<>();
    for (List<String> each :
        List.of(
            List.of("ida", "harbour master", Roles.ADMIN),
            List.of("otto", "clerk", "clerk"),
            List.of("mara", "skipper", ""),
            List.of("jonas", "skipper", ""))) {
      String name = each.getFirst();
      Set<String> roles = each.getLast().isEmpty() ? Set.of() : Set.of(each.getLast());
      if (people.add(name, name + "@marrow-quay.example", roles)
          instanceof People.Outcome.Done(Person person)) {
        String password = newPassword();
        people.setPassword(person, passwords.digest(password), "");
        added.add(new Added(name, each.get(1), password));
      }
    }
    return added;
  }

  private static String newPassword() {
    SecureRandom random = new SecureRandom();
    List<String> words = new ArrayList<>();
    for (int i = 0; i < WORDS_EACH; i++) {
      words.add(WORDS.get(random.nextInt(WORDS.size())));
    }
    return String.join("-", words);
  }
}
