import { beforeEach, expect, it, vi } from 'vitest';
import type { Field, Unique, Values } from '../src/description';
import { judge } from '../src/rules/verdict';
import { OpenForm } from '../src/form/open-form';
import { Service, type Checked } from '../src/net/service';
import { form } from './form';
import { more } from '../src/extras';

await more();

const say = { taken: 'Taken.', asking: 'Asking.', free: 'Free.', unanswered: 'Could not ask.' };

function field(name: string, more: Partial<Field> = {}): Field {
  const tidy = { trim: true };
  return { name, type: 'text', control: 'text', label: name, required: false, tidy, say, ...more };
}

/** `arrives` is unique with `vessel`, where `counts` says so. */
function stays(unique: Unique): ReturnType<typeof form> {
  return form([
    field('vessel'),
    field('arrives', { unique: [{ with: ['vessel'], ...unique }] }),
    field('off', { type: 'boolean', control: 'checkbox' }),
  ]);
}

const whenOn: Unique = { when: ['not', ['get', 0, 'off']], reads: ['off'] };

it.each<[string, Unique, Values, string[]]>([
  ['both are there', {}, { vessel: 'v', arrives: 'a' }, ['#/arrives']],
  ['the other is blank', {}, { arrives: 'a' }, []],
  ['the value is blank', {}, { vessel: 'v' }, []],
  ['it counts', whenOn, { vessel: 'v', arrives: 'a', off: false }, ['#/arrives']],
  ['it does not count', whenOn, { vessel: 'v', arrives: 'a', off: true }, []],
  ['what it reads is blank', whenOn, { vessel: 'v', arrives: 'a' }, []],
  ['not early', { early: false }, { vessel: 'v', arrives: 'a' }, ['#/arrives']],
])('leaves it to the service whether it is taken: %s', (_, unique, values, unasked) => {
  expect(judge(stays(unique), values).unasked).toEqual(unasked);
});

/** Notes what is asked, and says what the test last told it to say. */
class Told extends Service {
  asked: [string, Values][] = [];
  reply: Checked = { verdict: 'accepted', errors: [], unasked: [] };

  override check(_form: string, field: string, values: Values): Promise<Checked> {
    this.asked.push([field, values]);
    return Promise.resolve(this.reply);
  }
}

let service: Told;
let opened: OpenForm;

function open(unique: Unique, before?: Values): void {
  service = new Told();
  opened = new OpenForm(stays(unique), {
    mode: before ? 'edit' : 'add',
    values: before ?? {},
    service,
    ...(before && { record: 'r1', version: 1 }),
  });
}

function type(name: string, value: string | boolean): void {
  opened.set(name, value);
  opened.leave(name);
}

const arrives = () => opened.state().fields.arrives!;

beforeEach(() => open({}));

const wasAsked = (...asked: [string, Values][]) =>
  vi.waitFor(() => expect(service.asked).toEqual(asked));

it('asks when the last of them is there, whichever it is', async () => {
  type('arrives', 'a');
  expect(arrives().asked).toBe('not');
  type('vessel', 'v');
  await wasAsked(['arrives', { arrives: 'a', vessel: 'v' }]);
});

it('forgets what it heard as soon as one of them changes, and asks anew', async () => {
  service.reply = {
    verdict: 'refused',
    errors: [{ pointer: '#/arrives', code: 'taken', detail: 'Taken.' }],
    unasked: [],
  };
  type('vessel', 'v');
  type('arrives', 'a');
  await vi.waitFor(() => expect(arrives().error?.code).toBe('taken'));
  opened.set('vessel', 'w');
  expect(arrives().error).toBeUndefined();
  opened.leave('vessel');
  await wasAsked(
    ['arrives', { arrives: 'a', vessel: 'v' }],
    ['arrives', { arrives: 'a', vessel: 'w' }],
  );
});

it('sends along what the condition reads', async () => {
  open(whenOn);
  type('vessel', 'v');
  type('arrives', 'a');
  expect(arrives().asked).toBe('not');
  type('off', false);
  await wasAsked(['arrives', { arrives: 'a', vessel: 'v', off: false }]);
});

it('does not ask early about what is answered at submission only', () => {
  open({ early: false });
  type('vessel', 'v');
  type('arrives', 'a');
  expect(arrives().asked).toBe('not');
});

it('does not ask in an edit while all of them are as they were', async () => {
  open({}, { vessel: 'v', arrives: 'a' });
  opened.leave('arrives');
  expect(arrives().asked).toBe('not');
  type('vessel', 'w');
  await wasAsked(['arrives', { arrives: 'a', vessel: 'w' }]);
});
