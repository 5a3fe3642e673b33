import type { Description, Json } from '../description';
import type { FieldState as RuleState } from '../rules/field-states';
import { word } from '../rules/message';
import type { Submission } from '../rules/submission';
import { display, same, shown } from '../rules/value';

/** True if a value gives way to the tidied one when its field is left. */
export function isTidied(ruleState: RuleState): boolean {
  return ruleState.error?.code !== 'bad-input' && !ruleState.field.fields && ruleState.editable;
}

/**
 * What is said where more than the ends of a typed value changed by tidying.
 *
 * @returns undefined if nothing is to be said anew
 */
export function saidOfTidying(
  description: Description,
  { field }: RuleState,
  was: Json,
  now: Json,
): string | undefined {
  if (typeof was !== 'string' || typeof now !== 'string' || !now || was.trim() === now) {
    return undefined;
  }
  // A number says the same in standard form, and a long text is not said again.
  return /textarea|number|slider/.test(field.control)
    ? ''
    : word(description, 'tidied', { value: now });
}

/** Chosen options that another value rules out, and those that are left; undefined if none is ruled out. */
export function excluded(
  submission: Submission,
  ruleState: RuleState,
  isEdit: boolean,
): { left: Json; said: string } | undefined {
  const { value, field } = ruleState;
  const asKept = isEdit && same(value, ruleState.kept);
  if (ruleState.hidden || asKept || field.where === undefined || !/^choice/.test(field.type)) {
    return undefined;
  }
  const chosen = value.kind === 'chosen' ? value.options : [shown(value)].filter(Boolean);
  const left = chosen.filter((it) => submission.isOffered(ruleState, it));
  const gone = chosen.filter((it) => !left.includes(it));
  return gone.length
    ? {
        left: value.kind === 'chosen' ? left : '',
        said: gone.map((it) => display(field, it)).join(', '),
      }
    : undefined;
}

/** The suggested values that fields have no longer or not yet, but for those that the person changed. */
export function suggestions(submission: Submission, touched: Set<string>): [RuleState, string][] {
  return submission.states.flatMap((ruleState) => {
    const suggested = touched.has(ruleState.name) ? undefined : submission.suggestion(ruleState);
    return suggested && !same(suggested, ruleState.value)
      ? ([[ruleState, shown(suggested)]] as [RuleState, string][])
      : [];
  });
}
