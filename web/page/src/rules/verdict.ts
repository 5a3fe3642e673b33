import { Submission } from './submission';
import type { Context } from './stage-context';
import type { Description, FieldError, Json, Values } from '../description';
import { json } from './value';

/** The outcome of validation: tidied values, and at most one error for a field. */
export interface Verdict {
  verdict: 'accepted' | 'refused';
  /** Blank values are left out, and so are secrets. */
  values: Values;
  errors: FieldError[];
  /** Pointers of what only the service can decide; the verdict is final where there are none. */
  unasked: string[];
  /** Pointers of the fields that are not shown. */
  hidden: string[];
}

/**
 * Judges a submission by the rules that can run here: the service's own, in its order, with its
 * sentences. What only the service knows is listed as not asked.
 */
export function judge(description: Description, values: Values, context: Context = {}): Verdict {
  const submission = new Submission(description, values, context);
  const { states } = submission;
  const errors = submission.errors();
  return {
    verdict: errors.length ? 'refused' : 'accepted',
    values: submission.values(errors.length > 0),
    errors,
    unasked: states.filter((state) => state.unasked).map((state) => state.pointer),
    hidden: states.filter((state) => state.hidden).map((state) => state.pointer),
  };
}

/** The values as they are sent: all fields, secrets and blank rows too; blank ones are null. */
export function toSend(submission: Submission): Values {
  return Object.fromEntries(
    [...submission.root.states.values()]
      // A first value that only the service knows is its to fill in.
      .filter((state) => !state.absent || !state.open.has('default'))
      .map((state): [string, Json] => [state.field.name, json(state.whole(false, true))]),
  );
}
