package nodley.core.submission;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.input.Input;
import nodley.core.value.FileRef;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * First stage: binds what was sent to the fields, and makes the states of groups and rows. Sets
 * {@link FieldState#absent}, {@code value} and {@code nested}; rejects what cannot be read, and
 * names that no field has.
 */
final class Binder {

  /** What plain pages call their buttons; a browser sends the one that was pressed. */
  private static final Set<String> BUTTONS = Set.of("submit", "button");

  private final Input.Encoding encoding;
  private final Problems problems;
  private final ValueReader reader;

  private Binder(Request request, Problems problems) {
    this.problems = problems;
    this.encoding = request.input().encoding();
    this.reader =
        new ValueReader(encoding, request.context().zone(request.form()), request.isAdd());
  }

  static Bound bind(Request request) {
    FieldStates root = FieldStates.of(request);
    Problems problems = new Problems(request, root);
    new Binder(request, problems).bind(root, request.input().members());
    return new Bound(request, root, problems);
  }

  private void bind(FieldStates siblings, Map<String, Raw> members) {
    FieldState[] states = siblings.states();
    List<String> unknown = List.of();
    int next = 0;
    for (Map.Entry<String, Raw> member : members.entrySet()) {
      int place = siblings.fields().position(member.getKey(), next);
      if (place < 0 || states[place].field.isHidden()) {
        unknown = unknown.isEmpty() ? new ArrayList<>() : unknown;
        unknown.add(member.getKey());
      } else {
        states[place].absent = false;
        bind(states[place], member.getValue());
        next = place + 1;
      }
    }
    for (FieldState state : states) {
      if (state.absent) {
        bind(state, null);
      }
    }
    boolean top = siblings.outer() == null;
    for (String name : unknown) {
      boolean own =
          top && encoding == Input.Encoding.FORM && (name.startsWith("_") || BUTTONS.contains(name))
              || siblings.isRow() && name.equals(Values.ROW);
      if (!own) {
        problems.rejectUnknown(siblings, name);
      }
    }
  }

  private void bind(FieldState state, Raw raw) {
    switch (state.field.type()) {
      case GROUP -> bindGroup(state, raw);
      case ROWS -> bindRows(state, raw);
      case FILE -> state.value = withStored(reader.of(state.field, raw), state.stored);
      default -> state.value = reader.of(state.field, raw);
    }
    if (state.value instanceof Value.Unread) {
      problems.reject(state, "bad-input");
    }
  }

  /** What an edited record has is known already. */
  private static Value withStored(Value value, Value stored) {
    if (!(value instanceof Value.Files(List<FileRef> sent, boolean many))
        || !(stored instanceof Value.Files(List<FileRef> files, boolean _))) {
      return value;
    }
    Map<String, FileRef> byReference = new HashMap<>();
    files.forEach(file -> byReference.put(FileRef.toStored(file.sha256()), file));
    return new Value.Files(
        sent.stream().map(it -> byReference.getOrDefault(it.reference(), it)).toList(), many);
  }

  private void bindGroup(FieldState state, Raw raw) {
    if (raw != null && !(raw instanceof Raw.Members) && !raw.isBlank()) {
      state.value = new Value.Unread(raw);
      return;
    }
    Values stored = state.stored instanceof Value.Group(Values values) ? values : Values.NONE;
    FieldStates nested = new FieldStates(state.field.fields(), state, -1, stored);
    state.nested = new FieldStates[] {nested};
    bind(nested, FieldState.members(raw));
  }

  /** Leaves out rows in which nothing was typed; pointers count them all the same. */
  private void bindRows(FieldState state, Raw raw) {
    List<Raw> rows = raw instanceof Raw.Many(List<Raw> items) ? items : List.of();
    boolean right = raw == null || raw.isBlank() || raw instanceof Raw.Many;
    for (Raw row : rows) {
      right = right && (row instanceof Raw.Members || row instanceof Raw.Null);
    }
    if (!right) {
      state.value = new Value.Unread(raw);
      return;
    }
    state.sentRows = rows.size();
    FieldStates[] nested = new FieldStates[rows.size()];
    Values[] before = kept(state, rows);
    int count = 0;
    for (int i = 0; i < nested.length; i++) {
      if (!FieldState.isEmpty(rows.get(i))) {
        Values stored = before == null ? Values.NONE : before[count];
        FieldStates siblings = new FieldStates(state.field.fields(), state, i, stored);
        nested[count++] = siblings;
        bind(siblings, FieldState.members(rows.get(i)));
      }
    }
    state.nested = count == nested.length ? nested : Arrays.copyOf(nested, count);
  }

  /** Returns the stored row of each row that is not blank; null if no rows are stored. */
  private static Values[] kept(FieldState state, List<Raw> rows) {
    if (!(state.stored instanceof Value.Rows(List<Values> stored))) {
      return null;
    }
    List<Map<String, Raw>> sent = new ArrayList<>(rows.size());
    for (Raw row : rows) {
      if (!FieldState.isEmpty(row)) {
        sent.add(FieldState.members(row));
      }
    }
    return RowMatching.of(state.field, sent, stored);
  }
}
