import { beforeEach, expect, it, vi } from 'vitest';
import type { Description, Field, Values } from '../src/description';
import { OpenForm } from '../src/form/open-form';
import { Refusal, Service, type Accepted, type Checked, type Problem } from '../src/net/service';
import { WORDS } from './form';
import { more } from '../src/extras';

await more();

const say = {
  'value-missing': '{label} is required.',
  'too-short': 'Too short.',
  taken: '{value} is taken.',
  asking: 'Asking about {value}.',
  free: '{value} is free.',
  unanswered: 'Could not ask.',
  'bad-input': 'Not a number.',
};

function field(name: string, more: Partial<Field>): Field {
  const tidy = { trim: true };
  return { name, type: 'text', control: 'text', label: name, required: false, tidy, say, ...more };
}

const description: Description = {
  form: 'boat',
  revision: 1,
  label: 'Boat',
  title: { add: 'Add', edit: 'Edit', list: 'Boats' },
  access: { add: 'anyone', see: 'anyone', edit: 'anyone', remove: 'anyone' },
  words: WORDS,
  fields: [
    field('sign', {
      required: true,
      unique: true,
      length: { min: 2 },
      tidy: { trim: true, case: 'upper' },
    }),
    field('crew', { type: 'integer', control: 'number' }),
  ],
};

/** A service whose replies a test gives when it wants to. */
class Scripted extends Service {
  asked: { value: unknown; record: string | undefined; signal: AbortSignal }[] = [];
  sent: Values[] = [];
  versions: number[] = [];
  readonly keys: string[] = [];
  private replies: { resolve: (it: never) => void; reject: (it: unknown) => void }[] = [];

  private later<T>(): Promise<T> {
    return new Promise((resolve, reject) => this.replies.push({ resolve, reject }));
  }

  override check(
    _form: string,
    field: string,
    values: Values,
    record: string | undefined,
    signal: AbortSignal,
  ): Promise<Checked> {
    this.asked.push({ value: values[field], record, signal });
    return this.later();
  }

  override add(_form: string, values: Values): Promise<Accepted> {
    this.sent.push(values);
    return this.later();
  }

  override edit(
    _form: string,
    _record: string,
    version: number,
    values: Values,
    key = '',
  ): Promise<Accepted> {
    this.versions.push(version);
    this.keys.push(key);
    this.sent.push(values);
    return this.later();
  }

  /** What the record is now; nothing if the caller may not see it. */
  kept: Pick<Accepted, 'values' | 'version' | 'rows'> | undefined;

  override record(): Promise<Accepted> {
    return this.kept
      ? Promise.resolve({ id: 'r1', called: '', after: { go: '', say: '' }, ...this.kept })
      : Promise.reject(new Refusal({ type: '', status: 403, title: 'Not yours' }));
  }

  /** A request may wait for the part of the script that only edits need. */
  private request(index: number): Promise<(typeof this.replies)[number]> {
    return vi.waitUntil(() => this.replies[index]);
  }

  async answer(index: number, reply: unknown): Promise<void> {
    (await this.request(index)).resolve(reply as never);
    await settled();
  }

  async fail(index: number, failure: unknown): Promise<void> {
    (await this.request(index)).reject(failure);
    await settled();
  }
}

const settled = () => vi.dynamicImportSettled();
const FREE = { verdict: 'accepted', errors: [], unasked: [] };
const TAKEN = {
  verdict: 'refused',
  errors: [{ pointer: '#/sign', code: 'taken', detail: 'AB is taken.' }],
  unasked: [],
};

let service: Scripted;
let opened: OpenForm;

function open(values: Values, edit = false): void {
  service = new Scripted();
  opened = new OpenForm(description, {
    mode: edit ? 'edit' : 'add',
    values,
    service,
    ...(edit && { record: 'r1', version: 3 }),
  });
}

const sign = () => opened.state().fields.sign!;

beforeEach(() => open({ sign: '', crew: '' }));

it('shows no error before a field is left, and tidies it when it is', async () => {
  opened.set('sign', ' a');
  expect(sign().error).toBeUndefined();
  opened.leave('sign');
  expect(sign()).toMatchObject({ value: 'A', error: { code: 'too-short' } });
  opened.set('sign', ' ab ');
  expect(sign().error).toBeUndefined();
  opened.leave('sign');
  expect(sign().value).toBe('AB');
  await vi.waitFor(() => expect(service.asked.map((it) => it.value)).toEqual(['AB']));
});

it('keeps what could not be read as it was typed', () => {
  opened.set('crew', ' three ');
  opened.leave('crew');
  expect(opened.state().fields.crew).toMatchObject({
    value: ' three ',
    error: { code: 'bad-input' },
  });
});

it('asks about a unique value, and says so', async () => {
  opened.set('sign', 'ab');
  opened.leave('sign');
  expect(sign()).toMatchObject({ asked: 'asking', said: 'Tidied to AB' });
  await vi.waitFor(() => expect(sign().said).toBe('Asking about AB.'));
  await service.answer(0, FREE);
  expect(sign()).toMatchObject({ asked: 'free', said: 'AB is free.' });
});

it('does not ask twice about the same value', async () => {
  opened.set('sign', 'ab');
  opened.leave('sign');
  await service.answer(0, FREE);
  opened.leave('sign');
  expect(sign().asked).toBe('free');
  expect(service.asked).toHaveLength(1);
});

it('does not ask about a blank value, nor one that fails already', () => {
  opened.set('sign', ' ');
  opened.leave('sign');
  expect(sign().asked).toBe('not');
  opened.set('sign', 'a');
  opened.leave('sign');
  expect(sign().asked).toBe('not');
});

it('does not ask about the value that the edited record has, but about another', async () => {
  open({ sign: 'AB', crew: '' }, true);
  opened.leave('sign');
  opened.set('sign', 'abc');
  opened.set('sign', ' ab');
  opened.leave('sign');
  expect(sign().asked).toBe('not');
  opened.set('sign', 'cd');
  opened.leave('sign');
  await vi.waitFor(() => expect(service.asked).toMatchObject([{ value: 'CD', record: 'r1' }]));
});

it('shows a taken value at its field until it is changed', async () => {
  opened.set('sign', 'ab');
  opened.leave('sign');
  await service.answer(0, TAKEN);
  expect(sign().error?.detail).toBe('AB is taken.');
  opened.leave('sign');
  expect(sign().error?.code).toBe('taken');
  opened.set('sign', 'abc');
  expect(sign().error).toBeUndefined();
});

it('drops a late reply to an old value', async () => {
  opened.set('sign', 'ab');
  opened.leave('sign');
  opened.set('sign', 'cd');
  opened.leave('sign');
  await vi.waitFor(() => expect(service.asked).toHaveLength(2));
  await service.answer(1, FREE);
  await service.answer(0, TAKEN);
  expect(service.asked[0]!.signal.aborted).toBe(true);
  expect(sign()).toMatchObject({ asked: 'free', said: 'CD is free.' });
  expect(sign().error).toBeUndefined();
});

it('says nothing of a check that is under way when the form is blank for the next record', async () => {
  opened.set('sign', 'ab');
  opened.leave('sign');
  await vi.waitFor(() => expect(service.asked).toHaveLength(1));
  opened.clear();
  await service.answer(0, TAKEN);
  expect(service.asked[0]!.signal.aborted).toBe(true);
  expect(sign()).toMatchObject({ value: '', asked: 'not', said: '' });
  expect(sign().error).toBeUndefined();
});

it('says that it could not ask, and lets the form be sent all the same', async () => {
  opened.set('sign', 'ab');
  opened.leave('sign');
  await service.fail(0, new TypeError('network'));
  expect(sign()).toMatchObject({ asked: 'unanswered', said: 'Could not ask.' });
  void opened.submit();
  expect(service.sent).toEqual([{ sign: 'AB', crew: null }]);
});

it('shows what is missing instead of sending', async () => {
  expect(await opened.submit()).toEqual({ kind: 'refused' });
  expect(service.sent).toHaveLength(0);
  expect(sign().error?.detail).toBe('sign is required.');
  expect(opened.wrong()).toEqual(['sign']);
});

it('sends once, however often it is pressed', async () => {
  opened.set('sign', 'ab');
  const first = opened.submit();
  expect(opened.state().working).toBe(true);
  expect(await opened.submit()).toEqual({ kind: 'ignored' });
  await service.answer(0, { id: 'r1', after: { go: '/', say: 'Added.' } });
  expect(await first).toMatchObject({ kind: 'accepted', record: { id: 'r1' } });
  expect(service.sent).toHaveLength(1);
  expect(opened.state().working).toBe(false);
});

it('puts the errors of a refusal beside their fields, and others above', async () => {
  opened.set('sign', 'ab');
  const sent = opened.submit();
  const errors = [
    ...TAKEN.errors,
    { pointer: '#/gone', code: 'unknown-field', detail: 'No gone.' },
  ];
  await service.fail(0, new Refusal({ status: 422, title: 'Refused', errors } as Problem));
  expect(await sent).toEqual({ kind: 'refused' });
  expect(sign().error?.code).toBe('taken');
  expect(opened.state().others).toEqual(['No gone.']);
});

it('keeps what the service said of a value for as long as the value stands', async () => {
  opened.set('sign', 'ab');
  const first = opened.submit();
  const errors = TAKEN.errors;
  await service.fail(0, new Refusal({ status: 422, title: 'Refused', errors } as Problem));
  await first;
  opened.set('crew', 'many');
  await opened.submit();
  expect(opened.wrong()).toEqual(['sign', 'crew']);
  opened.set('crew', '3');
  void opened.submit();
  // Somebody may have given it up meanwhile: it is sent all the same.
  expect(service.sent).toHaveLength(2);
  await service.answer(1, { id: 'r1', version: 1, values: {}, after: { go: '', say: '' } });
  expect(opened.wrong()).toEqual([]);
});

it('keeps everything and says so when the service cannot be reached', async () => {
  opened.set('sign', 'ab');
  const sent = opened.submit();
  await service.fail(0, new TypeError('network'));
  expect(await sent).toEqual({ kind: 'refused' });
  expect(opened.state().others[0]).toContain('What you typed is still here');
  expect(sign().value).toBe('AB');
});

function outdated(version: number, fields: Problem['fields']): Refusal {
  return new Refusal({ status: 412, title: '', version, fields } as Problem);
}

it('explains that somebody else saved, and sends against their version the next time', async () => {
  open({ sign: 'AB', crew: 1 }, true);
  opened.set('crew', '2');
  const sent = opened.submit();
  await service.fail(0, outdated(7, [{ pointer: '#/crew', base: 1, theirs: 5, yours: 2 }]));
  expect(await sent).toEqual({ kind: 'refused' });
  expect(opened.state().conflict).toEqual([
    { name: 'crew', field: description.fields[1], label: 'crew', theirs: 5, yours: 2 },
  ]);
  void opened.submit();
  await vi.waitUntil(() => service.sent[1]);
  expect(service.versions).toEqual([3, 7]);
  // Only what has changed is sent.
  expect(service.sent[1]).toEqual({ crew: 2 });
});

it('keeps theirs of a field when told to, and says no more of it', async () => {
  open({ sign: 'AB', crew: 1 }, true);
  opened.set('crew', '2');
  void opened.submit();
  service.kept = { version: 7, values: { sign: 'AB', crew: 5 } };
  await service.fail(0, outdated(7, [{ pointer: '#/crew', theirs: 5, yours: 2 }]));
  opened.keepTheirs('crew');
  expect(opened.state().conflict).toBeUndefined();
  expect(opened.state().fields.crew!.value).toBe(5);
  void opened.submit();
  await vi.waitUntil(() => service.sent[1]);
  expect(service.sent[1]).toEqual({});
});

it('merges at once what only one of the two changed', async () => {
  open({ sign: 'AB', crew: 1 }, true);
  opened.set('sign', 'CD');
  const sent = opened.submit();
  await service.fail(
    0,
    outdated(7, [
      { pointer: '#/sign', base: 'AB', theirs: 'AB', yours: 'CD' },
      { pointer: '#/crew', base: 1, theirs: null, yours: 1 },
    ]),
  );
  await vi.waitUntil(() => service.versions.length === 2);
  expect(service.versions).toEqual([3, 7]);
  // Their change is kept already.
  expect(service.sent[1]).toEqual({ sign: 'CD' });
  expect(opened.state().fields.crew!.value).toBe('');
  await service.answer(1, { id: 'r1' });
  expect(await sent).toMatchObject({ kind: 'accepted' });
});

it('sends an edit again under its key, and the next one under another', async () => {
  open({ sign: 'AB', crew: 1 }, true);
  opened.set('crew', '2');
  const lost = opened.submit();
  await service.fail(0, new TypeError('network'));
  await lost;
  const again = opened.submit();
  await service.answer(1, { id: 'r1', version: 4, values: { sign: 'AB', crew: 2 } });
  await again;
  opened.set('crew', '3');
  void opened.submit();
  await vi.waitUntil(() => service.keys[2]);
  const [first, second, third] = service.keys;
  expect(second).toBe(first);
  expect(third).not.toBe(first);
});

it('tells listeners of every change, until they leave', () => {
  const heard = vi.fn();
  const leave = opened.subscribe(heard);
  opened.set('sign', 'a');
  leave();
  opened.set('sign', 'b');
  expect(heard).toHaveBeenCalledTimes(1);
});

it('names a field that the form does not have', () => {
  expect(() => opened.set('sgin', 'a')).toThrow('has no field "sgin"');
});
