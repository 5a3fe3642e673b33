// @vitest-environment jsdom
import type { Description, OpenForm } from 'nodley-page';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { useField, useForm, useFormState } from '../src';

const text = { type: 'text', control: 'text', tidy: { trim: true }, required: true };
const description = {
  form: 'boat',
  revision: 1,
  language: 'en',
  words: {},
  fields: [
    { ...text, name: 'name', label: 'Name', say: { 'value-missing': 'Name is required.' } },
    { ...text, name: 'port', label: 'Port', say: { 'value-missing': 'Port is required.' } },
  ],
} as unknown as Description;

let root: Root;
let opened: OpenForm | undefined;
/** How often each was drawn. */
const drawn: Record<string, number> = {};
/** What the service answers, by the end of the path. */
let replies: Record<string, [status: number, body: object]>;

beforeEach(() => {
  (globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;
  document.body.innerHTML = '<main></main>';
  root = createRoot(document.querySelector('main')!);
  replies = { boat: [200, description] };
  opened = undefined;
  Object.assign(drawn, { name: 0, port: 0 });
  vi.stubGlobal('fetch', (address: string | URL | Request) => {
    const path = new URL(String(address), 'http://nodley.test').pathname;
    const [status, body] = replies[path.split('/').at(-1)!] ?? [404, { title: 'Not there' }];
    return Promise.resolve(new Response(JSON.stringify(body), { status }));
  });
});

afterEach(() => {
  act(() => root.unmount());
  vi.unstubAllGlobals();
});

function Page({ form }: { form: string }) {
  const opening = useForm(form);
  if (opening.status === 'opened') {
    opened = opening.opened;
    return <Boat opened={opening.opened} />;
  }
  return <p>{opening.status === 'failed' ? String(opening.failure) : 'Opening'}</p>;
}

function Boat({ opened }: { opened: OpenForm }) {
  const { complete } = useFormState(opened);
  return (
    <form aria-label={complete ? 'complete' : 'incomplete'}>
      <Text opened={opened} name="name" />
      <Text opened={opened} name="port" />
    </form>
  );
}

function Text({ opened, name }: { opened: OpenForm; name: string }) {
  const field = useField(opened, name);
  drawn[name] = (drawn[name] ?? 0) + 1;
  return (
    <input name={name} readOnly value={String(field.value ?? '')} title={field.error?.detail} />
  );
}

const input = (name: string) => document.querySelector<HTMLInputElement>(`input[name=${name}]`)!;
const said = () => document.querySelector('main')!.textContent;

async function open(form = 'boat') {
  act(() => root.render(<Page form={form} />));
  expect(said()).toBe('Opening');
  await vi.waitFor(async () => {
    // What came meanwhile is drawn.
    await act(() => Promise.resolve());
    expect(said()).not.toBe('Opening');
  });
}

it('opens a form, draws its fields, and closes it with the component', async () => {
  await open();
  expect(input('name').value).toBe('');
  const closed = vi.fn();
  opened!.addEventListener('closed', closed);
  act(() => root.render(null));
  expect(closed).toHaveBeenCalledOnce();
});

it('shows an error once a field is left, and whether the form is complete', async () => {
  await open();
  expect(input('name').title).toBe('');
  act(() => opened!.leave('name'));
  expect(input('name').title).toBe('Name is required.');
  act(() => {
    opened!.set('name', 'Skua');
    opened!.set('port', 'Marrow Quay');
  });
  expect(input('name').title).toBe('');
  expect(document.querySelector('form')!.ariaLabel).toBe('complete');
});

it('tells why a form could not be opened', async () => {
  replies = { none: [404, { type: '/problems/no-such-form', title: 'There is no such form' }] };
  await open('none');
  expect(said()).toContain('There is no such form');
});

it('closes a form that was opened after its component had gone', async () => {
  let answer: (reply: Response) => void = () => undefined;
  vi.stubGlobal('fetch', () => new Promise<Response>((resolve) => (answer = resolve)));
  act(() => root.render(<Page form="boat" />));
  await vi.waitFor(() => expect(answer).not.toBe(undefined));
  act(() => root.render(null));
  await act(async () => {
    answer(new Response(JSON.stringify(description)));
    await Promise.resolve();
  });
  expect(opened).toBeUndefined();
  expect(said()).toBe('');
});
