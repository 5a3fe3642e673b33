package nodley.service.start;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.submission.Answer;
import nodley.core.value.FileRef;
import nodley.core.value.Raw;
import nodley.service.attempt.AttemptRecorder;
import nodley.service.caller.Caller;
import nodley.service.publish.Publisher;
import nodley.service.submission.Submissions;
import nodley.store.Store;
import nodley.store.access.Person;
import nodley.store.access.Roles;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Caused;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.record.SubmissionInfo;
import nodley.store.upload.Upload;
import nodley.store.upload.Uploads;
import org.springframework.core.io.ClassPathResource;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Publishes the forms of the demo and adds its records, as submissions like any other. */
@Component
final class MarrowQuay {

  /** Forms that others refer to come first. */
  private static final List<String> FORMS =
      List.of("berth", "vessel", "skipper", "visit", "incident", "harbour");

  /** Those whose records belong to people, which each line names. */
  private static final List<String> OF_PEOPLE = List.of("mooring");

  private static final List<String> LISTS = List.of("services");
  private static final List<String> PARTS = List.of("contact", "in-order");
  private static final List<String> THEMES = List.of("service", "watch");
  private static final List<String> TEXTS = List.of("service.de", "vessel.de", "visit.es");

  /** A day of a record, so that the demo is never out of date. */
  private static final Pattern DAY = Pattern.compile("today ([+-]) ([0-9]{1,3})");

  private static final Caller HARBOUR_OFFICE =
      new Caller.Known(
          "harbour office",
          "harbour office",
          "",
          "",
          true,
          Set.of(Roles.ADMIN),
          Set.of(),
          List.of());

  private final Store store;
  private final Publisher publisher;
  private final Submissions submissions;

  MarrowQuay(Store store, Publisher publisher, Submissions submissions) {
    this.store = store;
    this.publisher = publisher;
    this.submissions = submissions;
  }

  /**
   * Publishes the forms and adds the records, if the store has none. People must be there.
   *
   * @return how many records were added
   */
  int fill() {
    if (!store.forms().all().isEmpty()) {
      return 0;
    }
    try {
      MadeUpWeek.log(store.attempts(), Instant.now());
      int added = 0;
      Map<String, String> ids = new HashMap<>();
      for (String list : LISTS) {
        share(Forms.Kind.LIST, list, "lists/" + list + ".list.yaml");
      }
      for (String part : PARTS) {
        share(Forms.Kind.PART, part, "parts/" + part + ".part.yaml");
      }
      for (String theme : THEMES) {
        share(Forms.Kind.THEME, theme, "themes/" + theme + ".theme.yaml");
      }
      for (String form : FORMS) {
        publish(form);
        for (String line : text("demo/records/" + form + ".jsonl").lines().toList()) {
          add(form, line, HARBOUR_OFFICE, ids);
          added++;
        }
      }
      for (String form : OF_PEOPLE) {
        publish(form);
        for (String line : text("demo/records/" + form + ".jsonl").lines().toList()) {
          JsonNode written = JsonMapper.shared().readTree(line);
          Person by = store.people().named(written.path("by").asString()).orElseThrow();
          add(form, written.path("values").toString(), skipper(by), ids);
          added++;
        }
      }
      if (publisher.registry().outside().filter(it -> it.asks().contains("register")).isPresent()) {
        publish("outside/visitor");
      }
      for (String texts : TEXTS) {
        share(Forms.Kind.TEXTS, texts, "texts/" + texts + ".yaml");
      }
      return added;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (FormFileException | Unreadable e) {
      throw new IllegalStateException("the demo's own files must be right", e);
    }
  }

  private void publish(String form) throws IOException, FormFileException {
    String text = text("demo/" + (form.contains("/") ? form : "forms/" + form) + ".form.yaml");
    publisher.publish(text, Format.YAML, publisher.registry(), FormPublisher.Manner.CAREFUL);
  }

  /** Somebody whose record it is, and whom the office has answered already. */
  private static Caller skipper(Person person) {
    return new Caller.Known(
        person.name(),
        person.name(),
        person.id(),
        person.email(),
        false,
        Set.of(Roles.ADMIN),
        Set.of(),
        List.of());
  }

  private void share(Forms.Kind kind, String name, String file)
      throws IOException, FormFileException {
    String text = text("demo/" + file);
    store
        .publisher()
        .share(new Forms.SharedText(kind, name, Format.YAML, text), FormPublisher.Manner.CAREFUL);
  }

  /** Adds one record. References are written as the first field of the record they point at. */
  private void add(String name, String line, Caller caller, Map<String, String> ids)
      throws Unreadable {
    PublishedForm published = store.forms().find(name).orElseThrow();
    Form form = published.form();
    Input written = JsonInput.read(line.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
    Map<String, Raw> members = resolved(form.fields(), written.members(), ids);
    members = withFiles(form, caller, members);
    Input input = new Input(members, Input.Encoding.JSON);
    AttemptRecorder attempt = AttemptRecorder.within(published, caller.name());
    SubmissionInfo sent =
        new SubmissionInfo(
            caller.name(),
            caller.person(),
            "",
            "",
            Optional.empty(),
            Optional.empty(),
            Caused.NOTHING);
    switch (submissions.add(name, input, caller, sent, attempt)) {
      case Answer.Accepted<StoredRecord>(StoredRecord record) -> {
        String first = form.fields().iterator().next().name();
        ids.put(name + "/" + record.values().get(first).shown(), record.id());
      }
      case Answer.Refused<StoredRecord>(var verdict) ->
          throw new IllegalStateException(name + " " + line + ": " + verdict.errors());
    }
  }

  /** Uploads what a field of files names, {@code @quay.jpg}. */
  private Map<String, Raw> withFiles(Form form, Caller caller, Map<String, Raw> members) {
    Map<String, Raw> withFiles = new LinkedHashMap<>(members);
    for (Field field : form.fields()) {
      if (field.type() == Type.FILE) {
        withFiles.computeIfPresent(
            field.name(),
            (name, raw) ->
                raw instanceof Raw.Many(var items)
                    ? new Raw.Many(
                        items.stream().map(it -> upload(form, name, caller, it)).toList())
                    : upload(form, name, caller, raw));
      }
    }
    return withFiles;
  }

  private Raw upload(Form form, String field, Caller caller, Raw written) {
    String name = written.shown().substring(1);
    try {
      byte[] bytes = new ClassPathResource("demo/files/" + name).getContentAsByteArray();
      Uploads uploads = store.uploads();
      Upload upload =
          uploads.announce(
              new Upload.Announced(form.name(), field, caller.uploader(), "", name, bytes.length));
      uploads.append(upload, 0, new ByteArrayInputStream(bytes), Optional.empty());
      return new Raw.Text(FileRef.toUpload(upload.id()));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Map<String, Raw> resolved(
      Fields fields, Map<String, Raw> members, Map<String, String> ids) {
    Map<String, Raw> resolved = new LinkedHashMap<>();
    members.forEach(
        (name, raw) ->
            resolved.put(
                name, fields.find(name).map(field -> resolved(field, raw, ids)).orElse(raw)));
    return resolved;
  }

  private static Raw resolved(Field field, Raw raw, Map<String, String> ids) {
    return switch (raw) {
      case Raw.Text(String text) when field.refersTo().isPresent() ->
          new Raw.Text(ids.getOrDefault(field.refersTo().get() + "/" + text, text));
      case Raw.Text(String text) when DAY.matcher(text).matches() -> {
        Matcher day = DAY.matcher(text);
        day.matches();
        long days = Long.parseLong(day.group(1) + day.group(2));
        yield new Raw.Text(LocalDate.now(ZoneId.systemDefault()).plusDays(days).toString());
      }
      case Raw.Members(var members) -> new Raw.Members(resolved(field.fields(), members, ids));
      case Raw.Many(var items) ->
          new Raw.Many(items.stream().map(item -> resolved(field, item, ids)).toList());
      default -> raw;
    };
  }

  private static String text(String resource) throws IOException {
    return new ClassPathResource(resource).getContentAsString(StandardCharsets.UTF_8);
  }
}
