import type { StageContext } from './stage-context';
import type { Field, Unique, Values } from '../description';
import { evaluate } from './expression';
import type { FieldStates, FieldState } from './field-states';
import { put } from '../tree';
import { isTrue, json } from './value';

/** What the service is asked about a value: whether it is taken, and what others say of it. */
export function questions({ unique, ask }: Field): Unique[] {
  const all = unique === true ? [{}] : (unique ?? []);
  return ask ? [...all, ask] : all;
}

/** The paths of what takes part in it, besides the field itself. */
export function partners(unique: Unique): string[] {
  return [...(unique.with ?? []), ...(unique.reads ?? [])];
}

/** True if nothing of it is blank or wrong, and it counts just now. */
export function counts(submission: StageContext, state: FieldState, unique: Unique): boolean {
  const home = around(state.siblings);
  const whole = (unique.with ?? []).every((path) => {
    const other = home.at(path.split('.'));
    return other && !other.hidden && !other.error && other.value.kind !== 'blank';
  });
  const siblings = unique.ofForm ? home : state.siblings;
  return (
    whole &&
    (unique.when === undefined || isTrue(evaluate(unique.when, submission.contextIn(siblings))))
  );
}

/** True if the service can be asked now whether it is taken. */
export function asksEarly(submission: StageContext, state: FieldState): boolean {
  return (
    // A value in rows is answered for with the whole of them, at submission.
    state.name === state.path &&
    !state.error &&
    state.value.kind !== 'blank' &&
    questions(state.field).some(
      (unique) => unique.early !== false && counts(submission, state, unique),
    )
  );
}

/** True if nothing that the answer depends on has changed between two courses. */
export function isAsKept(before: StageContext, now: StageContext, state: FieldState): boolean {
  return JSON.stringify(toAsk(before, state)) === JSON.stringify(toAsk(now, state));
}

/** What the service needs to know to say whether it is taken. */
export function toAsk(submission: StageContext, state: FieldState): Values {
  return [state.path, ...questions(state.field).flatMap(partners)].reduce(
    (values: Values, path) => {
      const other = submission.root.at(path.split('.'));
      return other ? put(values, path, json(other.value)) : values;
    },
    {},
  );
}

/** The row or the form around a siblings. */
function around(siblings: FieldStates): FieldStates {
  return !siblings.outer || siblings.name.endsWith('].') ? siblings : around(siblings.outer);
}
