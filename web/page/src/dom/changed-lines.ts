import type { Field, Json } from '../description';
import type { Say } from '../rules/message';
import type { FormState } from '../form/state';
import { NAMES } from '../form/file-refs';
import type { Line } from './line';

/** What the summary says where somebody else has saved or removed the record meanwhile. */
export function changedLines(
  state: FormState,
  say: Say,
  called: (field: Field, value: Json) => string,
  form: HTMLElement,
): Line[] {
  if (state.elsewhere?.length === 0) {
    // There is nothing left to save.
    form
      .querySelectorAll<HTMLButtonElement>('button:not([type=button], [name^=_])')
      .forEach((it) => (it.disabled = true));
  }
  return [...elsewhere(state, say), ...conflict(state, say, called)];
}

function elsewhere({ elsewhere: labels }: FormState, say: Say): Line[] {
  if (!labels) {
    return [];
  }
  return labels.length
    ? [{ text: say('elsewhere', { fields: labels.join(', ') }), ...taking('', say('reload')) }]
    : [{ text: say('removed') }];
}

function conflict(
  state: FormState,
  say: Say,
  called: (field: Field, value: Json) => string,
): Line[] {
  if (!state.conflict) {
    return [];
  }
  return [
    { text: say('conflict.retry') },
    ...state.conflict.map(({ name, field, label, theirs, yours }): Line => ({
      ...taking(name, say('conflict.take')),
      text: say('conflict.line', {
        label,
        theirs: shown(field, theirs, called),
        yours: shown(field, yours, called),
      }),
    })),
  ];
}

/** A file is called by its name, and not by what refers to it. */
function shown(field: Field, value: Json, called: (field: Field, value: Json) => string): string {
  return field.type === 'file' && value
    ? [value]
        .flat()
        .map((it) => NAMES.get(String(it)) ?? '')
        .join(', ') || 'nothing'
    : called(field, value);
}

/** A button that keeps theirs, of one field or of all. */
function taking(value: string, label: string): Pick<Line, 'label' | 'button'> {
  return {
    label,
    button: () =>
      Object.assign(document.createElement('button'), {
        type: 'button',
        className: 'quiet',
        value,
        textContent: label,
      }),
  };
}
