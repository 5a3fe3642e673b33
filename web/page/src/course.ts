import { Arrival } from './arrival';
import { dateIn } from './clock';
import type {
  Condition,
  Description,
  Expression,
  FieldError,
  Json,
  Values,
  Word,
} from './description';
import { fieldsRead, Unanswered, type Scene } from './expression';
import { Judgement } from './judgement';
import { Memory } from './memory';
import { fit } from './read';
import type { Clock } from './rules';
import { Settlement } from './settlement';
import { word } from './sentence';
import { Scope, type Slot } from './slots';
import { Telling } from './telling';
import { BLANK, isTrue, json, members, text, type Value } from './value';

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
  readonly clock: Clock;
  readonly telling: Telling;
  readonly mode: 'add' | 'edit';
  readonly zone: string;
  readonly memory: Memory;
  readonly decided: Record<string, Decided>;
  /** All of them, each before what is inside it. */
  readonly slots: Slot[];
  readonly #byName: Map<string, Slot>;
  readonly #judgement = new Judgement(this);

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
    const arrival = new Arrival(this);
    const kept = this.memory.of('kept', [before], () => arrival.kept(description.fields, before));
    this.root = new Scope(description.fields, '#', undefined, kept);
    this.telling = new Telling(this.root, this.clock);
    arrival.read(this.root, typed);
    new Settlement(this).settle(description.settling ?? []);
    this.#judgement.whole(description.rules ?? []);
    this.slots = [...this.root.all()];
    this.#byName = new Map(this.slots.map((slot) => [slot.name, slot]));
  }

  /** The slot of a name as a page writes it. */
  slot(name: string): Slot | undefined {
    return this.#byName.get(name);
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
  holds(
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
  evaluate(
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

  sceneOf(scope: Scope): Scene {
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

  // ---- sentences

  /** The first error of a field stands; it is the only one. */
  refuse(slot: Slot, code: string): void {
    if (!slot.error) {
      const value = code === 'not-an-option' ? text(this.#judgement.culprit(slot)) : slot.whole();
      slot.error = this.telling.error(slot, code, value);
    }
  }

  /** True if a value must be there just now. */
  isRequired(slot: Slot): boolean {
    return this.#judgement.isRequired(slot);
  }

  /** Whether an option is offered just now. */
  isOffered(slot: Slot, value: string): boolean {
    return this.#judgement.isOffered(slot, value);
  }

  /** A word of the page. */
  say = (name: Word, args?: Record<string, string | number>): string =>
    word(this.description, name, args);

  /** What is said of an early question: asking, free, unanswered. */
  said(slot: Slot, state: string): string {
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
