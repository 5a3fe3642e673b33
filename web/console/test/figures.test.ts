import { expect, it } from 'vitest';
import { byForm, DAY, HOUR, slots } from '../src/overview/figures';
import { rising } from '../src/overview/Needs';
import { daysLeft, size } from '../src/service/service';

const NOON = Date.UTC(2027, 4, 1, 12);
const count = (form: string, hour: number, verdict: string, many: number) => ({
  form,
  hour,
  verdict,
  count: many,
});

it('sums up what came by the hour, with hours in which nothing did', () => {
  const all = slots(
    [
      count('a', NOON, 'accepted', 3),
      count('b', NOON, 'accepted', 2),
      count('a', NOON, 'refused', 1),
      count('a', NOON + 2 * HOUR, 'failed', 4),
      count('a', NOON + 2 * HOUR, 'repeated', 9),
    ],
    NOON,
    NOON + 3 * HOUR,
    HOUR,
  );
  expect(all).toEqual([
    { from: NOON, accepted: 5, refused: 1, failed: 0 },
    { from: NOON + HOUR, accepted: 0, refused: 0, failed: 0 },
    { from: NOON + 2 * HOUR, accepted: 0, refused: 0, failed: 4 },
  ]);
});

it('sums up by the form, the busiest first', () => {
  expect(
    byForm([
      count('a', NOON, 'accepted', 1),
      count('b', NOON, 'accepted', 2),
      count('b', NOON, 'refused', 2),
    ]),
  ).toEqual([
    { form: 'b', sent: 4, refused: 2 },
    { form: 'a', sent: 1, refused: 0 },
  ]);
});

it('tells a form whose refusals have risen', () => {
  const before = NOON - 3 * DAY;
  expect(
    rising([count('a', before, 'refused', 30), count('a', NOON - HOUR, 'refused', 11)], NOON),
  ).toEqual(['a']);
  expect(
    rising([count('a', before, 'refused', 60), count('a', NOON - HOUR, 'refused', 11)], NOON),
  ).toEqual([]);
  expect(rising([count('a', NOON - HOUR, 'refused', 9)], NOON)).toEqual([]);
});

it('says how long the disk lasts, and sizes as people read them', () => {
  const disk = {
    free: 7000,
    total: 1,
    database: 1,
    files: 1,
    log: 1,
    records: 1,
    acceptedInWeek: 1,
  };
  expect(daysLeft({ ...disk, grownInWeek: 100 })).toBe(490);
  expect(daysLeft({ ...disk, grownInWeek: 0 })).toBeUndefined();
  expect(size(999)).toBe('999 bytes');
  expect(size(1500)).toBe('1.5 kB');
  expect(size(250_000_000)).toBe('250 MB');
});
