package nodley.service.ask;

import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.Executor;
import java.util.stream.Collectors;
import nodley.core.form.Form;
import nodley.core.submission.AskQuestion;
import nodley.core.submission.AskReply;
import nodley.core.submission.Context;
import nodley.core.submission.Steps;
import nodley.core.value.Wellformed;
import nodley.service.limits.OutwardSettings;
import nodley.service.outside.OutsideCalls;
import nodley.service.problem.Json;
import org.springframework.stereotype.Component;

/** The services outside that the settings have to be asked. Thread-safe; a question blocks. */
@Component
public final class AskedServices {

  /** Names that an attempt tells, of those that are none. */
  private static final int MOST_NAMED = 5;

  private static final int LONGEST_NAME = 40;

  private static final Executor THREADS = Thread::startVirtualThread;

  private final Map<String, AskedService> all = new TreeMap<>();

  AskedServices(OutwardSettings settings, OutsideCalls calls, Clock clock) {
    settings
        .asks()
        .forEach((name, ask) -> all.put(name, new AskedService(name, ask, calls, clock)));
  }

  /** Returns the names of all. */
  public Set<String> names() {
    return new TreeSet<>(all.keySet());
  }

  /**
   * How one stands.
   *
   * @param where its address
   * @param resting true if it is not asked just now, because it did not answer
   * @param asked when it was asked last; empty if it was not since the start
   * @param said what came of that
   */
  public record Standing(
      String name, String where, boolean resting, Optional<String> asked, Optional<String> said) {}

  /** Returns how each stands, by name. */
  public List<Standing> standing() {
    return all.entrySet().stream()
        .map(
            it ->
                new Standing(
                    it.getKey(),
                    it.getValue().where(),
                    it.getValue().isResting(),
                    it.getValue().last().map(last -> last.at().toString()),
                    it.getValue().last().map(AskedService.Last::said)))
        .toList();
  }

  /**
   * Asks all questions of a submission at the same time.
   *
   * @param steps is told what came of each
   * @return one reply for each question, in their order
   */
  public List<AskReply> ask(Form form, Context context, List<AskQuestion> questions, Steps steps) {
    List<AskedService.Answer> answers =
        steps.question(all -> said(form, questions, all), () -> answers(form, context, questions));
    return answers.stream().map(AskedService.Answer::reply).toList();
  }

  private List<AskedService.Answer> answers(
      Form form, Context context, List<AskQuestion> questions) {
    if (questions.size() == 1) {
      return List.of(answer(form, context, questions.getFirst()));
    }
    List<CompletableFuture<AskedService.Answer>> asked = new ArrayList<>();
    for (AskQuestion question : questions) {
      asked.add(CompletableFuture.supplyAsync(() -> answer(form, context, question), THREADS));
    }
    return asked.stream().map(CompletableFuture::join).toList();
  }

  private AskedService.Answer answer(Form form, Context context, AskQuestion question) {
    AskedService service = all.get(question.ask().of());
    if (service == null) {
      // It was there when the form was published.
      return new AskedService.Answer(
          new AskReply.Unanswered(false), "not asked: the settings do not have it");
    }
    return service.ask(Json.bytes(body(form, context, question)), question.ask().isOfForm());
  }

  private static Map<String, Object> body(Form form, Context context, AskQuestion question) {
    Map<String, Object> body = new LinkedHashMap<>();
    body.put("form", form.name());
    body.put("mode", question.mode().word());
    question.record().ifPresent(it -> body.put("record", it));
    question.ask().at().ifPresent(it -> body.put("field", String.join(".", it)));
    body.put("values", question.values());
    Context.Sender sender = context.sender();
    body.put(
        "caller", Map.of("name", sender.name(), "email", sender.email(), "roles", sender.roles()));
    return body;
  }

  private static String said(
      Form form, List<AskQuestion> questions, List<AskedService.Answer> answers) {
    List<String> said = new ArrayList<>();
    for (int i = 0; i < answers.size(); i++) {
      said.add(
          questions.get(i).ask().of()
              + ": "
              + answers.get(i).said()
              + unknown(form, answers.get(i).reply()));
    }
    return String.join("; ", said);
  }

  /** What it proposes for fields that there are not, its developer wants to know. */
  private static String unknown(Form form, AskReply reply) {
    if (!(reply instanceof AskReply.Answered(List<AskReply.Objection> _, var fill))) {
      return "";
    }
    String names =
        fill.keySet().stream()
            .filter(it -> form.fields().find(List.of(it.split("\\.", -1))).isEmpty())
            .limit(MOST_NAMED)
            .map(it -> Wellformed.of(it.substring(0, Math.min(it.length(), LONGEST_NAME))))
            .collect(Collectors.joining(", "));
    return names.isEmpty() ? "" : ", with a fill of no field: " + names;
  }
}
