import type { Condition, Expression, FieldError, Json, Values } from '../description';
import type { EvaluationContext } from './expression';
import type { Memory } from './expression-memo';
import type { FieldState, FieldStates } from './field-states';
import type { Say } from './message';
import type { Clock } from './rules';
import type { Sentences } from './sentences';
import type { Value } from './value';

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

/** What the stages of one submission share. `Submission` implements it, and runs the stages. */
export interface StageContext {
  /** The states of the form's own fields, with all that is inside them. */
  readonly root: FieldStates;
  readonly mode: 'add' | 'edit';
  readonly clock: Clock;
  readonly zone: string;
  readonly memory: Memory;
  readonly decided: Record<string, Decided>;
  readonly sentences: Sentences;
  /** Errors of rules over several fields that stand at none of them. */
  readonly overall: FieldError[];
  /** Errors of members that the form does not have. */
  readonly unknown: FieldError[];
  /** Whether a condition holds; where only the service knows, what it said, else `otherwise`. */
  holds(
    what: 'shown' | 'required' | 'editable',
    condition: Condition,
    state: FieldState,
    otherwise: boolean,
  ): boolean;
  /** What an expression comes to; undefined where only the service knows. */
  evaluate(
    what: string,
    tree: Expression,
    state: FieldState,
    context?: EvaluationContext,
  ): Value | undefined;
  /** What an expression of a field can read. */
  contextOf(state: FieldState): EvaluationContext;
  /** What an expression among some fields can read. */
  contextIn(siblings: FieldStates): EvaluationContext;
  /** Sets the error of a field, unless it has one. */
  refuse(state: FieldState, code: string): void;
  /** A word of the page. */
  say: Say;
}
