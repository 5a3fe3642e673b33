import type {
  Condition,
  Description,
  Expression,
  Field,
  FieldError,
  Json,
  Rule,
  Values,
} from './description';
import { dateIn } from './clock';
import { evaluate, Unanswered, type Scene } from './expression';
import { Memory } from './memory';
import { Scope, Slot } from './slots';
import { Telling } from './telling';
import { fit, isBlank, read } from './read';
import { fault, type Clock } from './rules';
import { trim } from './tidy';
import { BLANK, bool, json, number, same, shown, text, type Value } from './value';

const NOTHING: Values = {};

/** What a judgement takes into account besides the values. */
export interface Context {
  mode?: 'add' | 'edit';
  /** What the edited record keeps. */
  before?: Values;
  /** RFC 3339; left out, the description's. */
  now?: string;
  /** `YYYY-MM-DD`; left out, the description's, else that of `now` in the form's zone. */
  today?: string;
  /** What was worked out before for the same form. */
  memory?: Memory;
  /** What the service has decided of fields, by pointer. */
  decided?: Record<string, Decided>;
}

/** What only the service could say of a field: its conditions, its computed value. */
export interface Decided {
  shown?: boolean;
  required?: boolean;
  editable?: boolean;
  value?: Json;
}

/** One submission on its way: the same line as on the service, as far as it can be gone here. */
export class Course {
  readonly root: Scope;
  readonly overall: FieldError[] = [];
  readonly unknown: FieldError[] = [];
  private readonly clock: Clock;
  private readonly telling: Telling;
  private readonly mode: 'add' | 'edit';
  private readonly zone: string;
  private readonly memory: Memory;
  private readonly decided: Record<string, Decided>;

  constructor(
    private readonly description: Description,
    typed: Values,
    context: Context = {},
  ) {
    this.mode = context.mode ?? 'add';
    this.zone = description.zone ?? 'UTC';
    const told = context.now ?? description.now;
    const now = told ? Date.parse(told) : Date.now();
    const today = context.today ?? description.today ?? dateIn(now, this.zone);
    this.clock = { today, now };
    this.memory = context.memory ?? new Memory();
    this.decided = context.decided ?? {};
    const { before = NOTHING } = context;
    const kept = this.memory.of('kept', [before], () => this.kept(description.fields, before));
    this.root = new Scope(description.fields, '#', undefined, kept);
    this.telling = new Telling(description, this.root, this.clock);
    this.read(this.root, typed);
    this.settle();
    this.judge(this.root);
    this.repeats(this.root);
    this.rules(this.root);
    description.rules?.forEach((rule, index) =>
      this.rule(
        `rule ${index}`,
        rule,
        this.root,
        rule.at ? this.root.at(rule.at.split('.')) : undefined,
      ),
    );
    this.ask();
  }

  /** What a record keeps, read as its fields' values. */
  private kept(fields: Field[], before: Values): Record<string, Value> {
    return Object.fromEntries(
      fields.map((field) => {
        const raw = before[field.name];
        if (field.type === 'group') {
          const values = this.kept(field.fields!, (raw ?? {}) as Values);
          const blank = Object.values(values).every((it) => it.kind === 'blank');
          return [field.name, blank ? BLANK : { kind: 'group', values }];
        }
        if (field.type === 'rows') {
          const rows = ((raw ?? []) as Values[]).map((row) => this.kept(field.fields!, row));
          return [field.name, rows.length ? { kind: 'rows', rows } : BLANK];
        }
        // What is kept was tidied when it came, and stays as it is.
        const { tidy: _, ...untidied } = field;
        return [field.name, read(untidied, raw, this.zone)];
      }),
    );
  }

  // ---- read and tidy

  private read(scope: Scope, typed: Values): void {
    for (const slot of scope.slots.values()) {
      const raw = Object.hasOwn(typed, slot.field.name) ? typed[slot.field.name] : undefined;
      slot.absent = raw === undefined;
      if (slot.field.type === 'group') {
        this.readGroup(slot, raw);
      } else if (slot.field.type === 'rows') {
        this.readRows(slot, raw);
      } else {
        slot.value = this.memory.of(`read ${slot.name}`, [raw], () =>
          read(slot.field, raw, this.zone),
        );
      }
      if (slot.value.kind === 'unread') {
        this.refuse(slot, 'bad-input');
      }
    }
    for (const name of Object.keys(typed)) {
      if (!scope.slots.has(name) && typed[name] !== undefined) {
        this.unknown.push({
          pointer: `${scope.pointer}/${name}`,
          code: 'unknown-field',
          detail: name,
        });
      }
    }
  }

  private readGroup(slot: Slot, raw: Json): void {
    if (!isBlank(raw) && (typeof raw !== 'object' || Array.isArray(raw))) {
      slot.value = { kind: 'unread', typed: raw };
      return;
    }
    const kept = slot.kept.kind === 'group' ? slot.kept.values : {};
    const inside = new Scope(slot.field.fields!, slot.pointer, slot.scope, kept, `${slot.name}.`);
    slot.inside = [inside];
    this.read(inside, isBlank(raw) ? {} : (raw as Values));
  }

  /** Rows in which nothing was typed are left out, and not counted. */
  private readRows(slot: Slot, raw: Json): void {
    const rows = isBlank(raw) ? [] : raw;
    const isRow = (row: unknown) =>
      row === null || (typeof row === 'object' && !Array.isArray(row));
    if (!Array.isArray(rows) || !rows.every(isRow)) {
      slot.value = { kind: 'unread', typed: raw };
      return;
    }
    const kept = slot.kept.kind === 'rows' ? slot.kept.rows : [];
    for (const [typed, row] of (rows as Values[]).entries()) {
      if (!isEmpty(row)) {
        const index = slot.inside.length;
        const pointer = `${slot.pointer}/${index}`;
        const name = `${slot.name}[${typed}].`;
        const scope = new Scope(slot.field.fields!, pointer, slot.scope, kept[index] ?? {}, name);
        slot.inside.push(scope);
        this.read(scope, row);
      }
    }
  }

  // ---- settle

  private settle(): void {
    for (const path of this.description.settling ?? []) {
      this.root.each(path.split('.')).forEach((slot) => this.settleOne(slot));
    }
  }

  private settleOne(slot: Slot): void {
    const { field } = slot;
    if (slot.hidden) {
      return;
    }
    if (!this.holds('shown', field.shown ?? true, slot, true)) {
      slot.hide();
      return;
    }
    if (field.compute !== undefined) {
      this.compute(slot, field.compute);
      return;
    }
    slot.editable = this.holds('editable', field.editable ?? true, slot, true);
    if (slot.absent && this.mode === 'add') {
      slot.value = this.first(slot);
    } else if (!slot.editable) {
      const standing = this.mode === 'add' ? this.first(slot) : slot.kept;
      if (!slot.absent && !same(slot.whole(), standing)) {
        this.refuse(slot, 'not-editable');
      }
      if (!field.fields) {
        slot.value = standing;
      } else if (slot.absent) {
        this.restore(slot);
      }
    }
  }

  /** A group or rows that may not be edited keep what they have, all of it. */
  private restore(slot: Slot): void {
    const sets =
      slot.kept.kind === 'rows'
        ? slot.kept.rows
        : slot.field.type === 'group'
          ? [slot.kept.kind === 'group' ? slot.kept.values : {}]
          : [];
    slot.inside = sets.map((kept, index) => {
      const pointer = slot.field.type === 'rows' ? `${slot.pointer}/${index}` : slot.pointer;
      const name = slot.field.type === 'rows' ? `${slot.name}[${index}].` : `${slot.name}.`;
      const scope = new Scope(slot.field.fields!, pointer, slot.scope, kept, name);
      for (const inner of scope.slots.values()) {
        inner.value = inner.field.fields ? BLANK : inner.kept;
        if (inner.field.fields) {
          this.restore(inner);
        }
      }
      return scope;
    });
  }

  private first(slot: Slot): Value {
    const { field } = slot;
    if (field.defaultTo === undefined) {
      return read(field, field.default, this.zone);
    }
    const value = this.evaluate('default', field.defaultTo, slot);
    return value ? fit(field, value) : BLANK;
  }

  private compute(slot: Slot, tree: Expression): void {
    const sent = slot.value;
    slot.error = undefined;
    slot.editable = false;
    const value = this.evaluate('compute', tree, slot);
    const { tidy: _, ...untidied } = slot.field;
    slot.value = value
      ? fit(slot.field, value)
      : read(untidied, this.decided[slot.pointer]?.value, this.zone);
    const old = this.mode === 'edit' && same(sent, slot.kept);
    if (value && !slot.absent && !same(sent, slot.value) && !old) {
      this.refuse(slot, 'not-editable');
    }
  }

  /** What a field's `suggest` comes to; nothing if it has none. */
  suggestion(slot: Slot): Value | undefined {
    const { suggest } = slot.field;
    if (suggest === undefined || slot.hidden) {
      return undefined;
    }
    const value = this.evaluate('suggest', suggest, slot);
    return value ? fit(slot.field, value) : BLANK;
  }

  /** Whether a condition holds; where only the service knows, what it said, else `otherwise`. */
  private holds(
    what: 'shown' | 'required' | 'editable',
    condition: Condition,
    slot: Slot,
    otherwise: boolean,
  ): boolean {
    if (typeof condition === 'boolean') {
      return condition;
    }
    const value = this.evaluate(what, condition, slot);
    return value ? isTrue(value) : (this.decided[slot.pointer]?.[what] ?? otherwise);
  }

  /** What an expression comes to; nothing where only the service knows, and the field is open. */
  private evaluate(
    what: string,
    tree: Expression,
    slot: Slot,
    scene = this.scene(slot),
  ): Value | undefined {
    try {
      return this.memory.evaluate(`${what} ${slot.name}`, tree, scene);
    } catch (e) {
      if (!(e instanceof Unanswered)) {
        throw e;
      }
      slot.unasked = true;
      slot.open.set(
        what,
        fieldsRead(tree).map(([up, ...path]) => scene.each(up, path).map(json)),
      );
      return undefined;
    }
  }

  scene(slot: Slot): Scene {
    return this.sceneOf(slot.scope);
  }

  private sceneOf(scope: Scope): Scene {
    const seen = (slot: Slot | undefined, rows: boolean): Value => {
      if (!slot || slot.hidden) {
        return BLANK;
      }
      const value = rows || slot.field.fields ? slot.whole() : slot.value;
      return value.kind === 'unread' ? BLANK : value;
    };
    return {
      get: (up, path) => seen(scope.up(up).at(path), false),
      each: (up, path) =>
        scope
          .up(up)
          .each(path)
          .map((slot) => seen(slot, false)),
      today: this.clock.today,
      now: this.clock.now,
      mode: this.mode,
    };
  }

  // ---- judge

  private judge(scope: Scope): void {
    for (const slot of scope.slots.values()) {
      if (!slot.hidden) {
        if (!slot.error) {
          const code = this.fault(slot);
          if (code) {
            this.refuse(slot, code);
          }
        }
        slot.inside.forEach((inside) => this.judge(inside));
      }
    }
  }

  private fault(slot: Slot): string | undefined {
    const value = slot.whole();
    if (this.isMissing(slot, value)) {
      return 'value-missing';
    }
    const own = slot.field.fields
      ? fault(slot.field, value, slot.kept, this.clock)
      : this.memory.of(`fault ${slot.name}`, [value, slot.kept], () =>
          fault(slot.field, value, slot.kept, this.clock),
        );
    return own ?? this.notAnOption(slot);
  }

  private isMissing(slot: Slot, value: Value): boolean {
    const { required } = slot.field;
    const blank = value.kind === 'blank' || (value.kind === 'boolean' && !value.yes);
    return (
      blank &&
      required !== false &&
      !this.keepsSecret(slot) &&
      this.holds('required', required, slot, false)
    );
  }

  /** True if a value must be there just now. */
  isRequired(slot: Slot): boolean {
    return !this.keepsSecret(slot) && this.holds('required', slot.field.required, slot, false);
  }

  /** In an edit a blank secret keeps the kept one, and need not be typed twice. */
  private keepsSecret(slot: Slot): boolean {
    const { field } = slot;
    if (field.type !== 'secret' || this.mode === 'add') {
      return false;
    }
    const first = field.repeats && slot.scope.slots.get(field.repeats);
    return first ? first.value.kind === 'blank' : field.kept !== false;
  }

  private notAnOption(slot: Slot): string | undefined {
    const { type } = slot.field;
    const chosen =
      slot.value.kind === 'text' && type === 'choice'
        ? [slot.value.text]
        : slot.value.kind === 'chosen' && type === 'choices'
          ? slot.value.options
          : [];
    return chosen.every((option) => this.isOffered(slot, option)) ? undefined : 'not-an-option';
  }

  /** What is no longer offered, or where, stays right for a record that has it already. */
  isOffered(slot: Slot, value: string): boolean {
    const { field, kept } = slot;
    const option = field.options?.find((it) => it.value === value);
    const had =
      kept.kind === 'text'
        ? kept.text === value
        : kept.kind === 'chosen' && kept.options.includes(value);
    if (!option || option.offered === false) {
      return had;
    }
    if (field.where === undefined || (had && this.stands(slot, field.where))) {
      return true;
    }
    const own: Values = { value: option.value, label: option.label, ...option.marks };
    const around = this.scene(slot);
    const scene: Scene = {
      ...around,
      get: (up, path) => (up === 0 ? mark(own[path[0]!]) : around.get(up - 1, path)),
      each: (up, path) => (up === 0 ? [] : around.each(up - 1, path)),
    };
    const offered = this.evaluate(`where ${value}`, field.where, slot, scene);
    return offered ? isTrue(offered) : true;
  }

  /** True in an edit if nothing changed that `where` looks at outside the option. */
  private stands(slot: Slot, where: Expression): boolean {
    return (
      this.mode === 'edit' &&
      fieldsRead(where)
        .filter(([up]) => up > 0)
        .every(([up, ...path]) => slot.scope.up(up - 1).isUnchanged(path))
    );
  }

  /** What is typed twice must be alike, once there is something to repeat. */
  private repeats(scope: Scope): void {
    for (const slot of scope.slots.values()) {
      const first = slot.field.repeats && scope.slots.get(slot.field.repeats);
      const judged = first && !slot.hidden && !slot.error && !first.error;
      if (judged && !same(slot.value, first.value)) {
        this.refuse(slot, 'not-repeated');
      }
      slot.inside.forEach((inside) => this.repeats(inside));
    }
  }

  private rules(scope: Scope): void {
    for (const slot of scope.slots.values()) {
      if (!slot.hidden) {
        slot.field.rules?.forEach((rule, index) =>
          this.rule(
            `${slot.name} rule ${index}`,
            rule,
            scope,
            rule.at ? scope.at(rule.at.split('.')) : slot,
          ),
        );
        slot.inside.forEach((inside) => this.rules(inside));
      }
    }
  }

  private rule(key: string, rule: Rule, scope: Scope, at: Slot | undefined): void {
    const read = rule.reads.flatMap((path) => slotsRead(scope, path));
    const settled =
      rule.clock && this.mode === 'edit' && read.every((slot) => same(slot.whole(), slot.kept));
    if (settled || read.some((slot) => slot.error)) {
      return;
    }
    const asked = at ?? read[0];
    const scene = this.sceneOf(scope);
    const verdict = asked
      ? this.evaluate(key, rule.must, asked, scene)
      : evaluate(rule.must, scene);
    if (verdict?.kind !== 'boolean' || verdict.yes) {
      return;
    }
    const error = this.telling.rule(rule, at);
    if (!at || at.hidden) {
      this.overall.push(error);
    } else {
      at.error ??= error;
    }
  }

  /** What only the service knows about a value that nothing stands against. */
  private ask(): void {
    for (const slot of this.root.all()) {
      const { field } = slot;
      const asks = field.unique || field.refersTo || field.type === 'file';
      if (asks && !slot.error && slot.value.kind !== 'blank') {
        slot.unasked = true;
      }
    }
  }

  // ---- sentences

  /** The first error of a field stands; it is the only one. */
  private refuse(slot: Slot, code: string): void {
    if (!slot.error) {
      const value = code === 'not-an-option' ? text(this.culprit(slot)) : slot.whole();
      slot.error = this.telling.error(slot, code, value);
    }
  }

  /** What is said of an early question: asking, free, unanswered. */
  said(slot: Slot, state: string): string {
    return this.telling.said(slot, state);
  }

  private culprit(slot: Slot): string {
    return slot.value.kind === 'chosen'
      ? (slot.value.options.find((it) => !this.isOffered(slot, it)) ?? '')
      : shown(slot.value);
  }

  // ---- answer

  errors(): FieldError[] {
    const errors = [...this.root.all()].flatMap((slot) => (slot.error ? [slot.error] : []));
    return [...errors, ...this.overall, ...this.unknown];
  }
}

/** The slots that a path of an expression reads, with all that is in them. */
function slotsRead(scope: Scope, path: string): Slot[] {
  const up = path.lastIndexOf('^') + 1;
  const read = scope.up(up).each(path.slice(up).split('.'));
  return read.flatMap((slot) => [slot, ...slot.inside.flatMap((inside) => [...inside.all()])]);
}

/** The fields that an expression reads: how many scopes outwards, and their path. */
function fieldsRead(tree: Expression): [number, ...string[]][] {
  if (!Array.isArray(tree)) {
    return [];
  }
  const [what, ...rest] = tree as unknown[];
  if (what === 'get' || what === 'each') {
    return [rest as [number, ...string[]]];
  }
  // A list of literals may hold the very words that expressions begin with.
  const inner = ['in', 'through', 'matches'].includes(what as string) ? rest.slice(0, 1) : rest;
  return inner.flatMap((it) => fieldsRead(it as Expression));
}

function isTrue(value: Value): boolean {
  return value.kind === 'boolean' && value.yes;
}

function mark(value: Json): Value {
  switch (typeof value) {
    case 'boolean':
      return bool(value);
    case 'number':
      return number(value);
    default:
      return text(String(value ?? ''));
  }
}

/** Nothing but white space and empty lists. */
function isEmpty(raw: Json): boolean {
  if (typeof raw === 'string') {
    return trim(raw) === '';
  }
  return (
    raw === null ||
    raw === undefined ||
    (typeof raw === 'object' && Object.values(raw).every(isEmpty))
  );
}
