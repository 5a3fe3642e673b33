import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Description, Expression, Field, Values } from '../src/description';
import { Submission } from '../src/rules/submission';
import { Memory } from '../src/rules/expression-memo';
import { OpenForm } from '../src/form/open-form';
import { Service, type Checked } from '../src/net/service';
import { form } from './form';
import { more } from '../src/extras';

await more();

const say = { 'value-missing': '{label} is required.', rule: 'No.' };

function field(name: string, more: Partial<Field>): Field {
  const tidy = { trim: true };
  return { name, type: 'text', control: 'text', label: name, required: false, tidy, say, ...more };
}

/** Fields of which each may depend on those before it. */
function settled(fields: Field[], more: Partial<Description> = {}): Description {
  return form(fields, { settling: fields.map((it) => it.name), ...more });
}

const through = (what: string): Expression => ['through', ['get', 0, 'vessel'], 'vessel', [what]];

const reaching = settled(
  [
    field('vessel', { type: 'record', refersTo: 'vessel' }),
    field('depth', { type: 'integer' }),
    field('pilot', { shown: ['>=', through('length'), 20], required: true }),
    field('fee', { type: 'decimal', compute: ['*', through('length'), 2] }),
    field('notes', {}),
  ],
  {
    rules: [
      {
        must: ['<=', through('draught'), ['get', 0, 'depth']],
        reads: ['vessel', 'depth'],
        at: 'depth',
      },
    ],
  },
);

/** A service that answers when the test says so. */
class Later extends Service {
  asked: { fields: string; values: Values; signal: AbortSignal }[] = [];
  private ends: ((reply: Partial<Checked> | Error) => void)[] = [];

  override check(
    _form: string,
    fields: string,
    values: Values,
    _record: unknown,
    signal: AbortSignal,
  ) {
    this.asked.push({ fields, values, signal });
    return new Promise<Checked>((resolve, reject) =>
      this.ends.push((reply) =>
        reply instanceof Error
          ? reject(reply)
          : resolve({ verdict: 'accepted', errors: [], unasked: [], ...reply }),
      ),
    );
  }

  async answer(reply: Partial<Checked> | Error): Promise<void> {
    this.ends.at(-1)!(reply);
    await vi.advanceTimersByTimeAsync(0);
  }
}

let service: Later;
let opened: OpenForm;

beforeEach(() => {
  vi.useFakeTimers();
  service = new Later();
  opened = new OpenForm(reaching, { mode: 'add', values: {}, service });
});

afterEach(() => {
  vi.useRealTimers();
});

const pause = () => vi.advanceTimersByTimeAsync(200);

it('asks what reaches through a record once there is one, and says that it asks', async () => {
  await pause();
  expect(service.asked).toEqual([]);
  opened.set('vessel', 'v1');
  await vi.waitFor(() =>
    expect(opened.field('pilot')).toMatchObject({ asked: 'asking', said: 'Asking the service…' }),
  );
  expect(service.asked).toEqual([]);
  await pause();
  // The rule waits: its depth is blank, and a blank rule is met; yet only the service knows.
  expect(service.asked).toMatchObject([{ fields: 'depth,pilot,fee', values: { vessel: 'v1' } }]);
  await service.answer({
    values: { fee: 22.8 },
    decided: { '#/pilot': { shown: false } },
  });
  expect(opened.field('pilot')).toMatchObject({ hidden: true, said: '' });
  expect(opened.field('fee').value).toBe('22.8');
});

it('asks anew when what was read has changed, and not when something else has', async () => {
  opened.set('vessel', 'v1');
  await pause();
  await service.answer({ decided: { '#/pilot': { shown: true } }, values: {} });
  opened.set('notes', 'x');
  await pause();
  expect(service.asked).toHaveLength(1);
  opened.set('vessel', 'v2');
  expect(opened.field('pilot').hidden).toBe(false);
  await pause();
  expect(service.asked).toHaveLength(2);
  await service.answer({ decided: { '#/pilot': { shown: false } }, values: {} });
  await pause();
  expect(opened.field('pilot').hidden).toBe(true);
  opened.set('vessel', '');
  await pause();
  expect(service.asked).toHaveLength(2);
  expect(opened.field('pilot').said).toBe('');
});

it('shows the error of a rule that the service found broken, until its values change', async () => {
  opened.set('vessel', 'v1');
  opened.set('depth', '1');
  await pause();
  await service.answer({
    verdict: 'refused',
    errors: [{ pointer: '#/depth', code: 'rule', detail: 'Too shallow.' }],
    decided: { '#/pilot': { shown: false } },
  });
  expect(opened.field('depth').error?.detail).toBe('Too shallow.');
  opened.set('depth', '3');
  expect(opened.field('depth').error).toBeUndefined();
});

it('drops a reply that is overtaken, and says when it could not ask', async () => {
  opened.set('vessel', 'v1');
  await pause();
  opened.set('vessel', 'v2');
  expect(service.asked[0]!.signal.aborted).toBe(true);
  await service.answer({ decided: { '#/pilot': { shown: false } } });
  expect(opened.field('pilot').hidden).toBe(false);
  await pause();
  await service.answer(new TypeError('network'));
  expect(opened.field('pilot')).toMatchObject({
    asked: 'unanswered',
    said: 'The service could not be asked.',
  });
});

it('works out only what a change touches', () => {
  const many = settled(
    Array.from({ length: 200 }, (_, i) =>
      field(`f${i}`, i % 2 ? { shown: ['!=', ['get', 0, `f${i - 1}`], 'no'], required: true } : {}),
    ),
  );
  const memory = new Memory();
  const values: Values = Object.fromEntries(many.fields.map((it) => [it.name, 'yes']));
  new Submission(many, values, { memory });
  const all = memory.runs;
  expect(all).toBeGreaterThan(400);
  new Submission(many, { ...values }, { memory });
  expect(memory.runs).toBe(all);
  // One value is read and judged anew, and the one condition that reads it.
  const submission = new Submission(many, { ...values, f10: 'no' }, { memory });
  expect(memory.runs).toBe(all + 3);
  expect(submission.root.states.get('f11')!.hidden).toBe(true);
  expect(submission.root.states.get('f13')!.hidden).toBe(false);
});

it('forgets what another clock, mode or row would make of it', () => {
  const dated = settled([
    field('day', { type: 'date', control: 'date' }),
    field('late', { type: 'boolean', compute: ['<', ['get', 0, 'day'], ['today']] }),
  ]);
  const memory = new Memory();
  const late = (today: string) =>
    new Submission(dated, { day: '2027-03-02' }, { memory, today }).root.states.get('late')!.value;
  expect(late('2027-03-01')).toEqual({ kind: 'boolean', yes: false });
  expect(late('2027-03-03')).toEqual({ kind: 'boolean', yes: true });
});
