import { expect, it } from 'vitest';
import { localOf, momentOf } from '../src/attempts/times';

it('keeps the moment, wherever the browser is', () => {
  for (const moment of ['2027-01-05T10:30:00.000Z', '2027-07-05T23:59:00.000Z']) {
    expect(momentOf(localOf(moment))).toBe(moment);
  }
  const local = new Date(2027, 0, 5, 10, 30);
  expect(localOf(local.toISOString())).toBe('2027-01-05T10:30');
});

it('is blank for what is no time', () => {
  expect(localOf('')).toBe('');
  expect(localOf('yesterday')).toBe('');
  expect(momentOf('')).toBe('');
});
