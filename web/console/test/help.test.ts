import { expect, it } from 'vitest';
import { meaningOf } from '../src/form/help';

// Each sentence stands in docs/form-file.md.
it.each([
  ['', 'called', 'What one record is called in lists, references and titles.'],
  [
    'form: a\nfields:\n  b:\n    type: text\n    ',
    'required',
    'true, or an expression: a value must be there.',
  ],
  ['form: a\nfields:\n  b: { ', 'length', 'A span of code points of the tidied value.'],
  ['form: a\nfields:\n  b: { type: ', 'integer', '−(2^53 − 1)'],
  ['form: a\nfields:\n  b: { ', 'see', 'Whom the field is shown to'],
  [
    'form: a\nfields:\n  b: { unique: { ',
    'hold',
    'true: a page in which a value was found free holds it',
  ],
  [
    'form: a\nfields:\n  b:\n    type: group\n    fields:\n      c:\n        ',
    'help',
    'A line of help, tied to the control.',
  ],
])('after %j says of %s: %s', (before, word, meaning) => {
  expect(meaningOf(before, word)).toContain(meaning);
});

it('says nothing of names, of what it does not know, and within other mappings', () => {
  expect(meaningOf('form: a\nfields:\n  ', 'label')).toBeUndefined();
  expect(meaningOf('', 'lenght')).toBeUndefined();
  expect(meaningOf('form: ', 'access')).toBeUndefined();
  expect(meaningOf('form: a\naccess: { ', 'add')).toBeUndefined();
});
