import type { Course } from './course';
import type { Field, Unique, Values } from './description';
import { evaluate } from './expression';
import type { Scope, Slot } from './slots';
import { put } from './tree';
import { isTrue, json, same } from './value';

/** What must be unique where the error stands at this field. */
export function uniques({ unique }: Field): Unique[] {
  return unique === true ? [{}] : (unique ?? []);
}

/** The paths of what takes part in it, besides the field itself. */
export function partners(unique: Unique): string[] {
  return [...(unique.with ?? []), ...(unique.reads ?? [])];
}

/** True if nothing of it is blank or wrong, and it counts just now. */
export function counts(course: Course, slot: Slot, unique: Unique): boolean {
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
export function asksEarly(course: Course, slot: Slot): boolean {
  return (
    // A value in rows is answered for with the whole of them, at submission.
    slot.name === slot.path &&
    !slot.error &&
    slot.value.kind !== 'blank' &&
    uniques(slot.field).some((unique) => unique.early !== false && counts(course, slot, unique))
  );
}

/** The slots of what the answer depends on. */
function involved(course: Course, slot: Slot): (Slot | undefined)[] {
  const paths = [slot.path, ...uniques(slot.field).flatMap(partners)];
  return paths.map((path) => course.root.at(path.split('.')));
}

/** True if nothing of it has changed between two courses. */
export function isSame(before: Course, now: Course, slot: Slot): boolean {
  const old = involved(before, slot);
  return involved(now, slot).every((it, i) => it && old[i] && same(it.value, old[i].value));
}

/** What the service needs to know to say whether it is taken. */
export function toAsk(course: Course, slot: Slot): Values {
  return involved(course, slot).reduce(
    (values: Values, it) => (it ? put(values, it.path, json(it.value)) : values),
    {},
  );
}

/** The row or the form around a scope. */
function around(scope: Scope): Scope {
  return !scope.outer || scope.name.endsWith('].') ? scope : around(scope.outer);
}
