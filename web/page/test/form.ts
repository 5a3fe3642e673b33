import type { Description, Field, Message, Word } from '../src/description';

/** What a page says besides errors, as the service describes it in English. */
export const WORDS: Record<Word, Message> = {
  mend: [
    [
      'plural',
      'count',
      {
        one: ['There is one thing to mend'],
        other: ['There are ', ['count'], ' things to mend'],
      },
    ],
  ],
  saving: 'Saving…',
  'row.less': 'Remove row {number}',
  'row.up': 'Move row {number} up',
  counter: '{count} of {max}',
  tidied: 'Tidied to {value}',
  'file.sending': '{name}: {percent} of {size}',
  'file.done': '{name}: {size}, uploaded',
  'file.waiting': '{name}: the line is broken; it goes on by itself.',
  'file.failed': '{name} was not taken. {reason}',
  'file.remove': 'Remove {name}',
  'file.stop': 'Stop {name}',
  'file.removed': '{name} is removed.',
  'draft.kept': ['Kept as draft, ', ['time']],
  'draft.unkept': 'The service cannot be reached.',
  'draft.full': ['Not kept: ', ['reason']],
  'draft.merged': ['Taken over: ', ['fields']],
  'step.of': [['number'], ' of ', ['count']],
  dropped: '{value} is no longer offered, so it was taken out.',
  found: [
    [
      'plural',
      'count',
      { '=0': ['Nothing found'], one: ['One found'], other: [['count'], ' found'] },
    ],
  ],
  elsewhere:
    'Somebody else has just saved this record: {fields}. When you save, what only they changed is taken over, and you are asked where both of you did.',
  removed: 'Somebody else has removed this record.',
  reload: 'Take theirs now',
  sent: 'This page was sent before, and what was sent then is kept. Press again to send this as well.',
  'unknown-field': 'The form has no field "{name}".',
  'unknown-field.near': 'The form has no field "{name}". Did you mean "{near}"?',
  unreached: 'The service cannot be reached. What you typed is still here; try again in a moment.',
  'asking-service': 'Asking the service…',
  'unasked-service': 'The service could not be asked.',
  changed: 'This record has changed meanwhile',
  'conflict.retry': 'Somebody else saved this record while you were editing it.',
  'conflict.line': '{label}: they saved {theirs}, you typed {yours}.',
  'conflict.take': 'Keep theirs',
  understood: 'Understood as {value}',
  'counter.over': '{count} too many',
};

/** A form as the service describes one. */
export function form(fields: Field[], more: Partial<Description> = {}): Description {
  return {
    form: 'trip',
    revision: 1,
    label: 'Trip',
    title: { add: 'Add', edit: 'Edit', list: 'Trips' },
    access: { add: 'anyone', see: 'anyone', edit: 'anyone', remove: 'anyone' },
    words: WORDS,
    fields,
    ...more,
  };
}
