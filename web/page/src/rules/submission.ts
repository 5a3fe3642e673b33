import { Binder } from './binder';
import { dateIn } from './dates';
import type { Condition, Description, Expression, FieldError, Values } from '../description';
import { fieldsRead, Unanswered, type EvaluationContext } from './expression';
import { Validator } from './validator';
import { Memory } from './expression-memo';
import { fit } from './value-reader';
import type { Clock } from './rules';
import { DependentFields } from './dependent-fields';
import { word, type Say } from './message';
import type { Context, Decided, StageContext } from './stage-context';
import { FieldStates, type FieldState } from './field-states';
import { Sentences } from './sentences';
import { BLANK, isTrue, json, members, text, type Value } from './value';

const NOTHING: Values = {};

/** One submission in the browser: the same stages as in the service, except lookups and saving. */
export class Submission implements StageContext {
  readonly root: FieldStates;
  readonly overall: FieldError[] = [];
  readonly unknown: FieldError[] = [];
  readonly clock: Clock;
  readonly sentences: Sentences;
  readonly mode: 'add' | 'edit';
  readonly zone: string;
  readonly memory: Memory;
  readonly decided: Record<string, Decided>;
  /** All of them, each before what is inside it. */
  readonly states: FieldState[];
  readonly #byName: Map<string, FieldState>;
  readonly #validator = new Validator(this);

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
    const binder = new Binder(this);
    const kept = this.memory.of('kept', [before], () => binder.kept(description.fields, before));
    this.root = new FieldStates(description.fields, '#', undefined, kept);
    this.sentences = new Sentences(this.root, this.clock);
    binder.read(this.root, typed);
    new DependentFields(this).settle(description.settling ?? []);
    this.#validator.whole(description.rules ?? []);
    this.states = [...this.root.all()];
    this.#byName = new Map(this.states.map((state) => [state.name, state]));
  }

  /** The state of a name as a page writes it. */
  state(name: string): FieldState | undefined {
    return this.#byName.get(name);
  }

  /** What a field's `suggest` comes to; nothing if it has none. */
  suggestion(state: FieldState): Value | undefined {
    const { suggest } = state.field;
    if (suggest === undefined || state.hidden) {
      return undefined;
    }
    const value = this.evaluate('suggest', suggest, state);
    return value ? fit(state.field, value) : BLANK;
  }

  /** Whether a condition holds; where only the service knows, what it said, else `otherwise`. */
  holds(
    what: 'shown' | 'required' | 'editable',
    condition: Condition,
    state: FieldState,
    otherwise: boolean,
  ): boolean {
    if (typeof condition === 'boolean') {
      return condition;
    }
    const value = this.evaluate(what, condition, state);
    return value ? isTrue(value) : (this.decided[state.pointer]?.[what] ?? otherwise);
  }

  /** What an expression comes to; nothing where only the service knows, and the field is open. */
  evaluate(
    what: string,
    tree: Expression,
    state: FieldState,
    context = this.contextOf(state),
  ): Value | undefined {
    try {
      return this.memory.evaluate(`${what} ${state.name}`, tree, context);
    } catch (e) {
      if (!(e instanceof Unanswered)) {
        throw e;
      }
      state.unasked = true;
      state.open.set(
        what,
        fieldsRead(tree).map(([up, ...path]) => context.each(up, path).map(json)),
      );
      return undefined;
    }
  }

  contextOf(state: FieldState): EvaluationContext {
    return this.contextIn(state.siblings);
  }

  contextIn(siblings: FieldStates): EvaluationContext {
    const seen = (state: FieldState | undefined, rows: boolean): Value => {
      if (!state || state.hidden) {
        return BLANK;
      }
      const value = rows || state.field.fields ? state.whole() : state.value;
      return value.kind === 'unread' ? BLANK : value;
    };
    return {
      get: (up, path) => seen(siblings.up(up).at(path), false),
      each: (up, path) =>
        siblings
          .up(up)
          .each(path)
          .map((state) => seen(state, false)),
      today: this.clock.today,
      now: this.clock.now,
      mode: this.mode,
    };
  }

  // ---- sentences

  /** The first error of a field stands; it is the only one. */
  refuse(state: FieldState, code: string): void {
    if (!state.error) {
      const value = code === 'not-an-option' ? text(this.#validator.culprit(state)) : state.whole();
      state.error = this.sentences.error(state, code, value);
    }
  }

  /** True if a value must be there just now. */
  isRequired(state: FieldState): boolean {
    return this.#validator.isRequired(state);
  }

  /** Whether an option is offered just now. */
  isOffered(state: FieldState, value: string): boolean {
    return this.#validator.isOffered(state, value);
  }

  /** A word of the page. */
  say: Say = (name, args) => word(this.description, name, args);

  /** What is said of an early question: asking, free, unanswered. */
  said(state: FieldState, phase: string): string {
    return this.sentences.said(state, phase);
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
    const errors = this.states.flatMap((state) => (state.error ? [state.error] : []));
    return [...errors, ...this.overall, ...this.unknown];
  }
}
