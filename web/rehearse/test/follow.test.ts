// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { follow, typedBefore } from '../src/follow';

const reload = vi.fn();
const clear = vi.fn();

beforeEach(() => {
  vi.useFakeTimers();
  sessionStorage.clear();
  reload.mockClear();
  clear.mockClear();
  vi.stubGlobal('location', { pathname: '/forms/boat/new', reload });
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

function watch(unsaved: boolean, revision: () => Promise<number>) {
  const typed = { name: 'Skua', pin: '1234', crew: [{ name: 'Ann', pin: '9' }], gone: 'x' };
  const opened = {
    description: { revision: 1 },
    unsaved: () => unsaved,
    typed: () => typed,
    clear,
  };
  follow({ opened } as never, ['pin'], revision);
}

it('keeps what was typed, but for secrets, when the form is published anew', async () => {
  let now = 1;
  watch(true, () => Promise.resolve(now));
  await vi.advanceTimersByTimeAsync(3_000);
  expect(reload).not.toHaveBeenCalled();
  now = 2;
  await vi.advanceTimersByTimeAsync(1_000);
  expect(reload).toHaveBeenCalledOnce();
  expect(clear).toHaveBeenCalledOnce();
  // The form has lost a field.
  expect(typedBefore(['name', 'pin', 'crew'])).toEqual({ name: 'Skua', crew: [{ name: 'Ann' }] });
  expect(typedBefore(['name'])).toBeUndefined();
});

it('keeps nothing where nothing was typed', async () => {
  watch(false, () => Promise.resolve(2));
  await vi.advanceTimersByTimeAsync(1_000);
  expect(reload).toHaveBeenCalledOnce();
  expect(typedBefore(['name'])).toBeUndefined();
});

it('goes on asking while the service cannot be reached', async () => {
  const revision = vi.fn(() => Promise.reject(new TypeError('network')));
  watch(true, revision);
  await vi.advanceTimersByTimeAsync(3_000);
  expect(revision).toHaveBeenCalledTimes(3);
  expect(reload).not.toHaveBeenCalled();
});
