import { beforeEach, expect, it, vi } from 'vitest';
import type { Description, Field, Values } from '../src/description';
import { more } from '../src/extras';
import { judge } from '../src/rules/verdict';
import { OpenForm } from '../src/form/open-form';
import { Refusal, Service, type Problem } from '../src/net/service';
import { at, put, steps } from '../src/tree';
import { form } from './form';

await more();

const say = {
  'value-missing': '{label} is required.',
  'too-short': '{label} is too short.',
  'bad-input': '{label} cannot be read.',
  rule: '{label} does not fit.',
};

function field(name: string, more: Partial<Field>): Field {
  return {
    name,
    type: 'text',
    control: 'text',
    label: name,
    required: false,
    tidy: { trim: true },
    say,
    ...more,
  };
}

/** from and to with a rule between them; cargo for trade alone; a crew in rows. */
const description = form(
  [
    field('from', { type: 'date', control: 'date' }),
    field('to', { type: 'date', control: 'date', suggest: ['day+', ['get', 0, 'from'], 1] }),
    field('nights', { type: 'integer', compute: ['days', ['get', 0, 'from'], ['get', 0, 'to']] }),
    field('trade', { type: 'boolean', control: 'checkbox' }),
    field('cargo', { shown: ['get', 0, 'trade'], required: true }),
    field('service', {
      type: 'choice',
      control: 'radio',
      options: [
        { value: 'water', label: 'Water' },
        { value: 'crane', label: 'Crane', marks: { trade: true } },
      ],
      where: ['or', ['blank', ['get', 0, 'trade']], ['get', 1, 'trade']],
    }),
    field('contact', {
      type: 'group',
      fields: [field('email', { required: ['get', 1, 'trade'], unique: true })],
    }),
    field('crew', {
      type: 'rows',
      fields: [
        field('name', { required: true, length: { min: 2 } }),
        field('age', { type: 'integer' }),
      ],
    }),
  ],
  {
    rules: [
      {
        must: ['>', ['get', 0, 'to'], ['get', 0, 'from']],
        reads: ['from', 'to'],
        at: 'to',
        say: 'To comes after {from}.',
      },
    ],
    settling: ['nights', 'cargo'],
  },
);

/** A service that keeps what it is sent, and refuses if it is told to. */
class Noting extends Service {
  sent: Values[] = [];
  checked: { field: string; values: Values }[] = [];
  refusal?: Problem;

  override add(_form: string, values: Values) {
    this.sent.push(values);
    return this.refusal
      ? Promise.reject(new Refusal(this.refusal))
      : Promise.resolve({ id: '1', version: 1, called: '', values, after: { go: '/', say: '' } });
  }

  override check(_form: string, name: string, values: Values) {
    this.checked.push({ field: name, values });
    return Promise.resolve({ verdict: 'accepted' as const, errors: [], unasked: [] });
  }
}

let service: Noting;
let opened: OpenForm;

beforeEach(() => {
  service = new Noting();
  opened = new OpenForm(description, { mode: 'add', values: {}, service });
});

function type(name: string, value: string | boolean): void {
  opened.set(name, value);
  opened.leave(name);
}

it('names nested fields as pages and form encoding do', () => {
  expect(steps('crew[12].name')).toEqual(['crew', 12, 'name']);
  expect(put({}, 'crew[1].name', 'Ann')).toEqual({ crew: [{}, { name: 'Ann' }] });
  expect(put({ a: { b: 1 } }, 'a.c', 2)).toEqual({ a: { b: 1, c: 2 } });
  expect(at({ crew: [{ name: 'Ann' }] }, 'crew[0].name')).toBe('Ann');
  expect(at({ crew: 'x' }, 'crew[0].name')).toBeUndefined();
  expect(at({}, 'constructor')).toBeUndefined();
});

it('leaves the tree that it was given as it was', () => {
  const before = { crew: [{ name: 'Ann' }] };
  put(before, 'crew[0].name', 'Bob');
  expect(before).toEqual({ crew: [{ name: 'Ann' }] });
});

it('shows a field when its condition comes true, and forgets nothing that was typed in it', () => {
  expect(opened.field('cargo').hidden).toBe(true);
  opened.set('trade', true);
  expect(opened.field('cargo')).toMatchObject({ hidden: false, required: true });
  opened.set('cargo', 'Salt');
  opened.set('trade', false);
  expect(opened.field('cargo').hidden).toBe(true);
  opened.set('trade', true);
  expect(opened.field('cargo').value).toBe('Salt');
});

it('sends nothing of a hidden field', async () => {
  opened.set('trade', true);
  opened.set('cargo', 'Salt');
  opened.set('trade', false);
  await opened.submit();
  expect(service.sent[0]).toMatchObject({ trade: false, cargo: null });
});

it('computes while one types', () => {
  type('from', '2027-03-01');
  type('to', '2027-03-05');
  expect(opened.field('nights')).toMatchObject({ value: '4', editable: false });
});

it('suggests until the person has changed the value by hand', () => {
  opened.set('from', '2027-03-01');
  expect(opened.field('to').value).toBe('2027-03-02');
  opened.set('from', '2027-03-10');
  expect(opened.field('to').value).toBe('2027-03-11');
  opened.set('to', '2027-03-20');
  opened.set('from', '2027-03-12');
  expect(opened.field('to').value).toBe('2027-03-20');
});

it('shows the error of a rule at its place, and mends it from the other field', () => {
  type('to', '2027-03-01');
  type('from', '2027-03-05');
  expect(opened.field('to').error?.detail).toBe('To comes after 2027-03-05.');
  type('from', '2027-02-05');
  expect(opened.field('to').error).toBeUndefined();
});

it('does not show the error of a rule at a field that nobody has been at', () => {
  opened = new OpenForm(description, { mode: 'edit', values: { from: '2027-03-01' }, service });
  opened.set('to', '2027-02-01');
  expect(opened.field('to').error).toBeUndefined();
  opened.leave('to');
  expect(opened.field('to').error?.code).toBe('rule');
});

it('offers options by other fields', () => {
  expect(opened.offered('service')).toEqual(['water']);
  opened.set('trade', true);
  expect(opened.offered('service')).toEqual(['water', 'crane']);
  expect(opened.offered('cargo')).toBeUndefined();
});

it('judges rows by the place in which they were typed', () => {
  type('crew[0].name', '');
  type('crew[1].name', 'A');
  expect(opened.field('crew[1].name').error?.detail).toBe('name is too short.');
  expect(opened.field('crew[1].name').error?.pointer).toBe('#/crew/1/name');
  expect(opened.field('crew[0].name').error).toBeUndefined();
});

it('adds and removes rows', () => {
  opened.addRow('crew');
  type('crew[0].name', 'Ann');
  opened.addRow('crew');
  type('crew[1].name', 'Bob');
  opened.removeRow('crew', 0);
  expect(opened.typed()).toMatchObject({ crew: [{ name: 'Bob' }] });
});

it('sends blank rows in their place', async () => {
  type('crew[0].name', '');
  type('crew[2].name', ' Ann ');
  type('crew[2].age', '7');
  await opened.submit();
  expect(service.sent[0]!.crew).toEqual([{}, {}, { name: 'Ann', age: 7 }]);
});

it('puts errors of the service beside nested fields, by the place in which they were typed', async () => {
  type('crew[2].name', 'Ann');
  service.refusal = {
    type: '',
    title: 'Refused',
    status: 422,
    errors: [
      { pointer: '#/crew/2/name', code: 'taken', detail: 'Ann is aboard already.' },
      { pointer: '#', code: 'rule', detail: 'It does not go together.' },
    ],
  };
  await opened.submit();
  expect(opened.field('crew[2].name').error?.detail).toBe('Ann is aboard already.');
  expect(opened.state().others).toEqual(['It does not go together.']);
  expect(opened.wrong()).toEqual(['crew[2].name']);
});

it('asks about a unique value in a group, and sends it where it belongs', async () => {
  type('contact.email', 'ann@a.example');
  await vi.waitFor(() => expect(opened.field('contact.email').asked).toBe('free'));
  expect(service.checked).toEqual([
    { field: 'contact.email', values: { contact: { email: 'ann@a.example' } } },
  ]);
});

it('takes a row in which only a box is not ticked for one that nobody touched', async () => {
  const boats = form([
    field('crew', {
      type: 'rows',
      count: { max: 3 },
      fields: [field('name', { required: true }), field('hurt', { type: 'boolean' })],
    }),
  ]);
  opened = new OpenForm(boats, {
    mode: 'add',
    values: {
      crew: [
        { name: '', hurt: false },
        { name: 'Ann', hurt: false },
      ],
    },
    service,
  });
  await opened.submit();
  expect(service.sent).toEqual([{ crew: [{}, { name: 'Ann', hurt: false }] }]);
  opened.set('crew[0].hurt', true);
  opened.leave('crew[0].name');
  expect(opened.field('crew[0].name').error?.code).toBe('value-missing');
});

it('requires by another field', () => {
  expect(opened.field('contact.email').required).toBe(false);
  opened.set('trade', true);
  expect(opened.field('contact.email').required).toBe(true);
});

it('names a nested field that the form does not have', () => {
  expect(() => opened.set('crew[0].nmae', 'x')).toThrow('has no field "crew[0].nmae"');
  expect(() => opened.set('from.x', 'x')).toThrow('has no field "from.x"');
});

it('finds the kept row of each row as the service does', () => {
  const secret = field('pw', { type: 'secret', required: true });
  const users = form([
    field('users', { type: 'rows', fields: [field('user', {}), field('role', {}), secret] }),
  ]);
  const before = {
    users: [
      { _row: 3, user: 'ann', role: 'clerk' },
      { _row: 4, user: 'bob', role: 'clerk' },
      { _row: 5, user: 'cy', role: 'guard' },
    ],
  };
  const wrong = (rows: Values[]) =>
    judge(users, { users: rows }, { mode: 'edit', before }).errors.map((it) => it.pointer);
  expect(
    wrong([
      { user: 'cy', role: 'guard' },
      { user: 'ann', role: 'clerk' },
    ]),
  ).toEqual([]);
  expect(wrong([{ _row: '4', user: 'robert' }])).toEqual([]);
  expect(wrong([{ user: 'ann', role: 'clerk' }, {}, { user: 'dee', role: 'clerk' }])).toEqual([
    '#/users/2/pw',
  ]);
  expect(
    wrong([
      { _row: 3, user: 'x' },
      { _row: 3, user: 'ann' },
      { _row: 9, user: 'cy' },
    ]),
  ).toEqual(['#/users/1/pw', '#/users/2/pw']);
  expect(judge(users, { users: [{ 'a/b~c': 1, usre: 2 }] }).errors).toMatchObject([
    { pointer: '#/users/0/pw' },
    { pointer: '#/users/0/a~1b~0c', detail: 'The form has no field "a/b~c".' },
    { pointer: '#/users/0/usre', detail: 'The form has no field "usre". Did you mean "user"?' },
  ]);
});

it('judges a whole submission without a page', () => {
  expect(judge(description, { trade: true, crew: [{}, { name: 'A' }], stray: 1 })).toEqual({
    verdict: 'refused',
    values: { trade: true, crew: [{}, { name: 'A' }] },
    errors: [
      { pointer: '#/cargo', code: 'value-missing', detail: 'cargo is required.' },
      { pointer: '#/contact/email', code: 'value-missing', detail: 'email is required.' },
      { pointer: '#/crew/1/name', code: 'too-short', detail: 'name is too short.' },
      { pointer: '#/stray', code: 'unknown-field', detail: 'The form has no field "stray".' },
    ],
    unasked: [],
    hidden: [],
  });
});

it('leaves a text that is too long for a browser to match to the service', () => {
  const long = 'a'.repeat(1001);
  const patterns = form(
    [
      field('code', { pattern: '^(?:(a+)+b)$' }),
      field('note', {
        rules: [{ must: ['matches', ['get', 0, 'note'], '^(?:(a+)+b)$'], reads: ['note'] }],
      }),
    ],
    { rules: [] },
  );
  expect(judge(patterns, { code: long, note: long })).toMatchObject({
    verdict: 'accepted',
    unasked: ['#/code', '#/note'],
  });
  expect(judge(patterns, { code: 'aab', note: 'aab' })).toMatchObject({ errors: [], unasked: [] });
  expect(judge(patterns, { code: 'aa', note: 'aa' }).errors.map((it) => it.code)).toEqual([
    'pattern-mismatch',
    'rule',
  ]);
});

it('says of what only the service knows that it was not asked', () => {
  const reaching: Description = {
    ...description,
    fields: [
      field('vessel', { type: 'record', refersTo: 'vessel' }),
      field('deep', {
        required: ['>', ['through', ['get', 0, 'vessel'], 'vessel', ['draught']], 2],
      }),
    ],
    rules: [],
    settling: [],
  };
  expect(judge(reaching, { vessel: 'v1' })).toMatchObject({
    verdict: 'accepted',
    unasked: ['#/vessel', '#/deep'],
  });
  expect(judge(reaching, {}).unasked).toEqual([]);
});
