import type { Submission } from './submission';
import type { Field, Unique, Values } from '../description';
import { evaluate } from './expression';
import type { FieldStates, FieldState } from './field-states';
import { put } from '../tree';
import { isTrue, json } from './value';

/** What must be unique where the error stands at this field. */
export function uniques({ unique }: Field): Unique[] {
  return unique === true ? [{}] : (unique ?? []);
}

/** The paths of what takes part in it, besides the field itself. */
export function partners(unique: Unique): string[] {
  return [...(unique.with ?? []), ...(unique.reads ?? [])];
}

/** True if nothing of it is blank or wrong, and it counts just now. */
export function counts(course: Submission, slot: FieldState, unique: Unique): boolean {
  const home = around(slot.scope);
  const whole = (unique.with ?? []).every((path) => {
    const other = home.at(path.split('.'));
    return other && !other.hidden && !other.error && other.value.kind !== 'blank';
  });
  const scope = unique.ofForm ? home : slot.scope;
  return (
    whole && (unique.when === undefined || isTrue(evaluate(unique.when, course.sceneOf(scope))))
  );
}

/** True if the service can be asked now whether it is taken. */
export function asksEarly(course: Submission, slot: FieldState): boolean {
  return (
    // A value in rows is answered for with the whole of them, at submission.
    slot.name === slot.path &&
    !slot.error &&
    slot.value.kind !== 'blank' &&
    uniques(slot.field).some((unique) => unique.early !== false && counts(course, slot, unique))
  );
}

/** True if nothing that the answer depends on has changed between two courses. */
export function isAsKept(before: Submission, now: Submission, slot: FieldState): boolean {
  return JSON.stringify(toAsk(before, slot)) === JSON.stringify(toAsk(now, slot));
}

/** What the service needs to know to say whether it is taken. */
export function toAsk(course: Submission, slot: FieldState): Values {
  return [slot.path, ...uniques(slot.field).flatMap(partners)].reduce((values: Values, path) => {
    const other = course.root.at(path.split('.'));
    return other ? put(values, path, json(other.value)) : values;
  }, {});
}

/** The row or the form around a scope. */
function around(scope: FieldStates): FieldStates {
  return !scope.outer || scope.name.endsWith('].') ? scope : around(scope.outer);
}
