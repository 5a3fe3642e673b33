package nodley.service.start;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.service.people.PersonInput;
import nodley.service.problem.Problem;
import nodley.store.Store;
import nodley.store.access.People;
import nodley.store.access.Person;
import nodley.store.common.StoreException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/**
 * {@code nodley people add NAME --data DIR}: adds somebody to a data folder whose service does not
 * run, such as the first admin. Whoever may read the folder may do everything already, so no key is
 * asked for.
 */
@Command(
    name = "people",
    description = "Adds somebody to a data folder, while no service runs on it.",
    mixinStandardHelpOptions = true,
    footerHeading = "%nExample:%n",
    footer = "  nodley people add ida --role admin --data harbour")
public final class AddPerson implements Callable<Integer> {

  @Spec private CommandSpec spec;

  @Parameters(index = "0", paramLabel = "add", description = "What is done.")
  private String what;

  @Parameters(index = "1", paramLabel = "NAME", description = "What they sign in with.")
  private String name;

  @Option(names = "--data", paramLabel = "DIR", required = true, description = "The data folder.")
  private Path data;

  @Option(names = "--email", paramLabel = "ADDRESS", description = "An address of theirs.")
  private String email = "";

  @Option(names = "--role", paramLabel = "ROLE", description = "A role. More than one: again.")
  private List<String> roles = List.of();

  @Override
  public Integer call() {
    if (!what.equals("add")) {
      throw new ParameterException(
          spec.commandLine(),
          "With --data only `people add` works: start the service for the others.");
    }
    if (!Files.isDirectory(data)) {
      System.err.println("There is no data folder " + data + ".");
      return 1;
    }
    try (Store store = Store.open(data)) {
      return add(store);
    } catch (StoreException.BadFolder e) {
      System.err.println(e.getMessage());
      return 1;
    } catch (Problem e) {
      if (e.members().get("errors") instanceof List<?> errors) {
        for (Object each : errors) {
          System.err.println(each instanceof Map<?, ?> error ? error.get("detail") : each);
        }
      }
      System.err.println(e.detail());
      return 1;
    }
  }

  private int add(Store store) {
    PersonInput input = PersonInput.added(sent());
    People people = store.people();
    People.Outcome outcome = people.add(input.name(), input.email(), input.roles());
    if (outcome instanceof People.Outcome.Taken(var taken)) {
      throw input.taken(taken);
    }
    Person person = ((People.Outcome.Done) outcome).person();
    store.operatorLog().add("", "add-person", "people/" + person.name(), "data folder");
    System.out.println(
        person.name()
            + (roles.isEmpty()
                ? ", without a role,"
                : ", with the role " + String.join(", ", input.roles()) + ",")
            + " sets a password at the service's address, below:\n\n  /set-password?link="
            + people.newLink(person)
            + "\n\nIt is shown this once, and is good for 24 hours and for one use.");
    return 0;
  }

  private Input sent() {
    Map<String, Raw> members = new LinkedHashMap<>();
    members.put("name", new Raw.Text(name));
    members.put("email", new Raw.Text(email));
    members.put("roles", new Raw.Many(roles.stream().<Raw>map(Raw.Text::new).toList()));
    return new Input(members, Input.Encoding.JSON);
  }
}
