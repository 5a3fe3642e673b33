import { Submission, type Context } from './submission';
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
  const course = new Submission(description, values, context);
  const { slots } = course;
  const errors = course.errors();
  return {
    verdict: errors.length ? 'refused' : 'accepted',
    values: course.values(errors.length > 0),
    errors,
    unasked: slots.filter((slot) => slot.unasked).map((slot) => slot.pointer),
    hidden: slots.filter((slot) => slot.hidden).map((slot) => slot.pointer),
  };
}

/** The values as they are sent: all fields, secrets and blank rows too; blank ones are null. */
export function toSend(course: Submission): Values {
  return Object.fromEntries(
    [...course.root.slots.values()]
      // A first value that only the service knows is its to fill in.
      .filter((slot) => !slot.absent || !slot.open.has('default'))
      .map((slot): [string, Json] => [slot.field.name, json(slot.whole(false, true))]),
  );
}
