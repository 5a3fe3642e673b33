import type { Course } from './course';
import type { Field, Unique } from './description';
import { evaluate } from './expression';
import type { Scope, Slot } from './slots';
import { isTrue } from './value';

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

/** The row or the form around a scope. */
function around(scope: Scope): Scope {
  return !scope.outer || scope.name.endsWith('].') ? scope : around(scope.outer);
}
