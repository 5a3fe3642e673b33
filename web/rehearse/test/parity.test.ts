import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { warnOf } from '../src/parity';

const error = { pointer: '#/name', code: 'too-short', detail: 'Two letters or more.' };
const warn = vi.spyOn(console, 'error').mockImplementation(() => undefined);

beforeEach(() => warn.mockClear());
afterEach(() => expect(warn.mock.calls.length).toBeLessThan(2));

/** Says what the panel would say of a refusal. */
function refused(detail: object, field: object = {}, ruled = true): string {
  warnOf(new CustomEvent('refused', { detail: { service: true, errors: [error], ...detail } }), {
    ruled,
    state: () => ({ fields: { name: { error, asked: 'not', field: {}, ...field } } }),
  } as never);
  return String(warn.mock.calls[0]?.[0] ?? '');
}

it('warns of a value that the page let through and the service did not', () => {
  expect(refused({})).toMatch(/#\/name: too-short, "Two letters or more."/);
});

// What only the service can know is no disagreement.
it.each<[string, object, object?, boolean?]>([
  ['the page refused it itself', { service: false }],
  ['the value is taken', { errors: [{ ...error, code: 'taken' }] }],
  ['the value is held', { errors: [{ ...error, code: 'held' }] }],
  ['the record is gone', { errors: [{ ...error, code: 'no-such-record' }] }],
  ['the service could not be asked', {}, { asked: 'unanswered' }],
  ['the field is a reference', {}, { field: { refersTo: 'berth' } }],
  ['the service decides the rule', {}, { field: { onService: ['rules'] } }],
  ['the page heeds no rules', {}, {}, false],
])('says nothing where %s', (_, detail, field, ruled) => {
  expect(refused(detail, field, ruled)).toBe('');
});
