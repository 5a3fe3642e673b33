import { Binder } from './binder';
import { dateIn } from './dates';
import type {
  Condition,
  Description,
  Expression,
  FieldError,
  Json,
  Values,
  Word,
} from '../description';
import { fieldsRead, Unanswered, type EvaluationContext } from './expression';
import { Validator } from './validator';
import { Memory } from './expression-memo';
import { fit } from './value-reader';
import type { Clock } from './rules';
import { DependentFields } from './dependent-fields';
import { word } from './message';
import { FieldStates, type FieldState } from './field-states';
import { Sentences } from './sentences';
import { BLANK, isTrue, json, members, text, type Value } from './value';

const NOTHING: Values = {};

/** What a submission is validated against besides its form: mode, clock, the stored record. */
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

/** One submission in the browser: the same stages as in the service, except lookups and saving. */
export class Submission {
  readonly root: FieldStates;
  readonly overall: FieldError[] = [];
  readonly unknown: FieldError[] = [];
  readonly clock: Clock;
  readonly telling: Sentences;
  readonly mode: 'add' | 'edit';
  readonly zone: string;
  readonly memory: Memory;
  readonly decided: Record<string, Decided>;
  /** All of them, each before what is inside it. */
  readonly slots: FieldState[];
  readonly #byName: Map<string, FieldState>;
  readonly #judgement = new Validator(this);

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
    const arrival = new Binder(this);
    const kept = this.memory.of('kept', [before], () => arrival.kept(description.fields, before));
    this.root = new FieldStates(description.fields, '#', undefined, kept);
    this.telling = new Sentences(this.root, this.clock);
    arrival.read(this.root, typed);
    new DependentFields(this).settle(description.settling ?? []);
    this.#judgement.whole(description.rules ?? []);
    this.slots = [...this.root.all()];
    this.#byName = new Map(this.slots.map((slot) => [slot.name, slot]));
  }

  /** The slot of a name as a page writes it. */
  slot(name: string): FieldState | undefined {
    return this.#byName.get(name);
  }

  /** What a field's `suggest` comes to; nothing if it has none. */
  suggestion(slot: FieldState): Value | undefined {
    const { suggest } = slot.field;
    if (suggest === undefined || slot.hidden) {
      return undefined;
    }
    const value = this.evaluate('suggest', suggest, slot);
    return value ? fit(slot.field, value) : BLANK;
  }

  /** Whether a condition holds; where only the service knows, what it said, else `otherwise`. */
  holds(
    what: 'shown' | 'required' | 'editable',
    condition: Condition,
    slot: FieldState,
    otherwise: boolean,
  ): boolean {
    if (typeof condition === 'boolean') {
      return condition;
    }
    const value = this.evaluate(what, condition, slot);
    return value ? isTrue(value) : (this.decided[slot.pointer]?.[what] ?? otherwise);
  }

  /** What an expression comes to; nothing where only the service knows, and the field is open. */
  evaluate(
    what: string,
    tree: Expression,
    slot: FieldState,
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

  scene(slot: FieldState): EvaluationContext {
    return this.sceneOf(slot.scope);
  }

  sceneOf(scope: FieldStates): EvaluationContext {
    const seen = (slot: FieldState | undefined, rows: boolean): Value => {
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

  // ---- sentences

  /** The first error of a field stands; it is the only one. */
  refuse(slot: FieldState, code: string): void {
    if (!slot.error) {
      const value = code === 'not-an-option' ? text(this.#judgement.culprit(slot)) : slot.whole();
      slot.error = this.telling.error(slot, code, value);
    }
  }

  /** True if a value must be there just now. */
  isRequired(slot: FieldState): boolean {
    return this.#judgement.isRequired(slot);
  }

  /** Whether an option is offered just now. */
  isOffered(slot: FieldState, value: string): boolean {
    return this.#judgement.isOffered(slot, value);
  }

  /** A word of the page. */
  say = (name: Word, args?: Record<string, string | number>): string =>
    word(this.description, name, args);

  /** What is said of an early question: asking, free, unanswered. */
  said(slot: FieldState, state: string): string {
    return this.telling.said(slot, state);
  }

  // ---- answer

  /**
   * The values without secrets; blank ones are left out.
   *
   * @param asSent with blank rows where they were sent
   */
  values(asSent: boolean): Values {
    return members(this.root.values(true, asSent));
  }

  errors(): FieldError[] {
    const errors = this.slots.flatMap((slot) => (slot.error ? [slot.error] : []));
    return [...errors, ...this.overall, ...this.unknown];
  }
}
