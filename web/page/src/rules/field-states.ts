import type { Field, FieldError, Json } from '../description';
import { own } from '../tree';
import { BLANK, same, type Value } from './value';

/** The state of one field during one submission: its value so far and its first error. */
export class FieldState {
  value: Value = BLANK;
  absent = false;
  hidden = false;
  editable = true;
  error?: FieldError | undefined;
  /** Only the service can decide something about it. */
  unasked = false;
  /** The expressions of it that reach beyond what the page knows, and the values they read. */
  readonly open = new Map<string, Json[][]>();
  /** How many rows were sent, blank ones too. */
  sentRows = 0;
  /** A group has one siblings inside, rows as many as are not blank. */
  inside: FieldStates[] = [];

  constructor(
    readonly field: Field,
    readonly siblings: FieldStates,
    readonly kept: Value,
  ) {}

  get pointer(): string {
    return `${this.siblings.pointer}/${this.field.name}`;
  }

  /** Its name in a page and in form encoding: `contact.email`, `crew[0].name`. */
  get name(): string {
    return this.siblings.name + this.field.name;
  }

  /** Where it is declared, whatever the row: `crew.name`. */
  get path(): string {
    return this.name.replace(/\[\d+\]/g, '');
  }

  /**
   * The value with what is inside; a group or rows without anything in them are blank.
   *
   * @param openly without secrets, and without which rows they are
   * @param asSent with blank rows where they were sent
   */
  whole(openly = false, asSent = false): Value {
    if (this.value.kind === 'unread' || !this.field.fields) {
      return this.value;
    }
    const sets: Record<string, Value>[] = asSent
      ? Array<Record<string, Value>>(this.sentRows).fill({})
      : [];
    this.inside.forEach((siblings, i) => {
      sets[(asSent && siblings.row?.place) || i] = siblings.values(openly, asSent);
    });
    if (this.field.type === 'rows') {
      return sets.length ? { kind: 'rows', rows: sets } : BLANK;
    }
    const [values] = sets;
    return values && Object.values(values).some((it) => it.kind !== 'blank')
      ? { kind: 'group', values }
      : BLANK;
  }

  /** A field that is not shown is blank, with all that is in it. */
  hide(): void {
    this.hidden = true;
    this.error = undefined;
    this.value = BLANK;
    if (this.field.type === 'rows') {
      this.inside = [];
      this.sentRows = 0;
    }
    this.inside.forEach((siblings) => siblings.states.forEach((state) => state.hide()));
  }
}

/** The states of sibling fields: those of the form, of a group, or of one row. */
export class FieldStates {
  readonly states = new Map<string, FieldState>();
  /** True if a record that is edited has these fields already: they are in no row that is new. */
  readonly isKept: boolean;

  constructor(
    fields: Field[],
    readonly pointer: string,
    readonly outer: FieldStates | undefined,
    kept: Record<string, Value>,
    /** What the names of its fields begin with; rows are numbered as they are typed. */
    readonly name = '',
    /** Of a row, its place in what was sent, and which kept row it says it is. */
    readonly row?: { place: number; sent: [string, Value][] },
  ) {
    this.isKept = (!row || Object.keys(kept).length > 0) && (outer?.isKept ?? true);
    for (const field of fields) {
      this.states.set(field.name, new FieldState(field, this, own(kept, field.name) ?? BLANK));
    }
  }

  values(openly = false, asSent = false): Record<string, Value> {
    const states = [...this.states.values()];
    return Object.fromEntries([
      ...states
        .filter((state) => !openly || state.field.type !== 'secret')
        .map((state): [string, Value] => [state.field.name, state.whole(openly, asSent)]),
      ...(openly ? [] : (this.row?.sent ?? [])),
    ]);
  }

  /** The state of a field behind the names of the groups around it. */
  at([name, ...rest]: string[]): FieldState | undefined {
    const state = this.states.get(name!);
    return rest.length ? state?.inside[0]?.at(rest) : state;
  }

  /** The states of a declared field, one for each row around it. */
  each([name, ...rest]: string[]): FieldState[] {
    const state = this.states.get(name!);
    if (!state) {
      return [];
    }
    return rest.length ? state.inside.flatMap((siblings) => siblings.each(rest)) : [state];
  }

  *all(): Generator<FieldState> {
    for (const state of this.states.values()) {
      yield state;
      for (const siblings of state.inside) {
        yield* siblings.all();
      }
    }
  }

  /** True if the fields at a path are as the edited record keeps them. */
  isUnchanged(path: string[]): boolean {
    return this.each(path).every((state) => same(state.whole(), state.kept));
  }

  up(count: number): FieldStates {
    return count === 0 ? this : this.outer!.up(count - 1);
  }
}
