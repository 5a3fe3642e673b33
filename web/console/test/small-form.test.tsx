// @vitest-environment jsdom
import { Refusal } from 'nodley-page';
import { act } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { SmallForm } from '../src/SmallForm';

let root: Root;
const send = vi.fn<(values: Record<string, string>) => Promise<void>>();

beforeEach(() => {
  (globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;
  document.body.innerHTML = '<main></main>';
  root = createRoot(document.querySelector('main')!);
  send.mockReset();
  send.mockResolvedValue(undefined);
  act(() =>
    root.render(
      <SmallForm
        label="Add somebody"
        prefix="new-"
        asked={[
          { name: 'name', label: 'Name', missing: 'A person has a name.' },
          { name: 'email', label: 'E-mail' },
          { name: 'word', label: 'Word', secret: true },
        ]}
        button="Add"
        send={send}
      />,
    ),
  );
});

afterEach(() => act(() => root.unmount()));

const input = (name: string) => document.querySelector<HTMLInputElement>(`#new-${name}`)!;
const error = (name: string) => document.querySelector(`#new-${name}-error`)!.textContent;

function type(name: string, text: string) {
  const value = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!;
  act(() => {
    value.set!.call(input(name), text);
    input(name).dispatchEvent(new Event('input', { bubbles: true }));
  });
}

const submit = () =>
  act(async () => {
    document
      .querySelector('form')!
      .dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }));
    await Promise.resolve();
  });

it('says what is missing at its field, goes there, and sends nothing', async () => {
  await submit();
  expect(send).not.toHaveBeenCalled();
  expect(error('name')).toBe('A person has a name.');
  expect(document.activeElement).toBe(input('name'));
  expect(input('name').getAttribute('aria-invalid')).toBe('true');
  type('name', 'Ann');
  expect(error('name')).toBe('');
});

it('sends texts without the blanks around them, but secrets as they were typed', async () => {
  type('name', ' Ann ');
  type('word', ' grey heron ');
  await submit();
  expect(send).toHaveBeenCalledExactlyOnceWith({ name: 'Ann', email: '', word: ' grey heron ' });
  expect(input('name').value).toBe('');
});

it('puts errors of the service at their fields, and others above the button', async () => {
  type('name', 'Ann');
  send.mockRejectedValue(
    new Refusal({
      type: '/problems/refused',
      title: 'The submission was refused',
      status: 422,
      errors: [
        { pointer: '#/email', code: 'taken', detail: 'ann@harbour.example is somebody else’s.' },
        { pointer: '#/roles', code: 'bad-value', detail: 'A role is a word.' },
      ],
    }),
  );
  await submit();
  expect(error('email')).toBe('ann@harbour.example is somebody else’s.');
  expect(document.querySelector('[role=alert].ant-alert')!.textContent).toContain(
    'A role is a word.',
  );
  expect(document.activeElement).toBe(input('email'));
  expect(input('name').value).toBe('Ann');
});

it('says that the service cannot be reached', async () => {
  type('name', 'Ann');
  send.mockRejectedValue(new TypeError('network'));
  await submit();
  expect(document.querySelector('main')!.textContent).toContain('The service cannot be reached.');
});
