// @vitest-environment jsdom
import { expect, it } from 'vitest';
import { lineOf, whoDecided } from '../src/who-decided';

const FILE = `form: vessel
fields:
  name: { type: text, required: true }
  callSign:
    type: text
    unique: true
  crew:
    type: rows
    fields:
      age: { type: integer }
`;

it('tells of each error who has decided it, with its line in the form file', async () => {
  const told = await whoDecided(
    [
      { pointer: '#/name', code: 'value-missing' },
      { pointer: '#/callSign', code: 'taken' },
      { pointer: '#/crew/2/age', code: 'range-overflow' },
      { pointer: '#/berth', code: 'no-such-record' },
      { pointer: '#', code: 'ask-refused' },
    ],
    () => Promise.resolve(FILE),
  );
  expect(told).toEqual([
    'who decided:',
    '  #/name value-missing: a rule, on the page and in the service, line 3',
    '  #/callSign taken: the index of what stands only once, line 4',
    '  #/crew/2/age range-overflow: a rule, on the page and in the service, line 10',
    '  #/berth no-such-record: the service, which alone knows',
    '  # ask-refused: somebody outside who was asked',
  ]);
});

it('names no line where two could be it', () => {
  expect(lineOf('#/type', FILE.split('\n'))).toBeUndefined();
  expect(lineOf('#', FILE.split('\n'))).toBeUndefined();
});
