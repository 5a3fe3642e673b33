import { expect, it } from 'vitest';
import { dateIn, daysBetween, isDate, moment, moved, time } from '../src/rules/dates';

const at = (text: string, zone = 'UTC') => {
  const ms = moment(text, zone);
  return ms === undefined ? undefined : new Date(ms).toISOString();
};

it.each([
  // Lisbon: summer time from 2027-03-28 01:00 UTC to 2027-10-31 01:00 UTC.
  ['Europe/Lisbon', '2027-03-28T00:59', '2027-03-28T00:59:00.000Z'],
  ['Europe/Lisbon', '2027-03-28T01:00', undefined],
  ['Europe/Lisbon', '2027-03-28T01:59:59', undefined],
  ['Europe/Lisbon', '2027-03-28T02:00', '2027-03-28T01:00:00.000Z'],
  ['Europe/Lisbon', '2027-10-31T00:59', '2027-10-30T23:59:00.000Z'],
  ['Europe/Lisbon', '2027-10-31T01:00', '2027-10-31T00:00:00.000Z'],
  ['Europe/Lisbon', '2027-10-31T01:59', '2027-10-31T00:59:00.000Z'],
  ['Europe/Lisbon', '2027-10-31T02:00', '2027-10-31T02:00:00.000Z'],
  // New York: 2027-03-14 and 2027-11-07, at two in the morning.
  ['America/New_York', '2027-03-14T02:30', undefined],
  ['America/New_York', '2027-03-14T03:00', '2027-03-14T07:00:00.000Z'],
  ['America/New_York', '2027-11-07T01:30', '2027-11-07T05:30:00.000Z'],
  // Half hours, and clocks that never change.
  ['Asia/Kolkata', '2027-06-01T00:00', '2027-05-31T18:30:00.000Z'],
  // Lord Howe moves by half an hour: 2027-10-03, two o'clock becomes half past.
  ['Australia/Lord_Howe', '2027-10-03T02:15', undefined],
  ['Australia/Lord_Howe', '2027-10-03T02:30', '2027-10-02T15:30:00.000Z'],
  // Samoa left out the whole of 2011-12-30.
  ['Pacific/Apia', '2011-12-30T12:00', undefined],
  ['Pacific/Apia', '2011-12-31T12:00', '2011-12-30T22:00:00.000Z'],
])('in %s, %s is %s', (zone, local, expected) => {
  expect(at(local, zone)).toBe(expected);
});

it('counts days over leap years as the proleptic Gregorian calendar does', () => {
  expect(daysBetween('1899-12-31', '1900-03-01')).toBe(60);
  expect(daysBetween('1999-12-31', '2000-03-01')).toBe(61);
  expect(daysBetween('0001-01-01', '9999-12-31')).toBe(3_652_058);
  expect(moved('0004-02-28', 1)).toBe('0004-02-29');
  expect(moved('1582-10-04', 1)).toBe('1582-10-05');
  expect(moved('9999-12-31', 1)).toBeUndefined();
  expect(moved('0001-01-01', -1)).toBeUndefined();
  expect(moved('2027-03-01', 1e300)).toBeUndefined();
  expect(moved('2027-03-01', 0, -1e300)).toBeUndefined();
});

it.each([
  ['2027-01-31', 1, '2027-02-28'],
  ['2028-01-31', 1, '2028-02-29'],
  ['2028-02-29', 12, '2029-02-28'],
  ['2028-02-29', -48, '2024-02-29'],
  ['2027-03-31', -1, '2027-02-28'],
  ['2027-12-15', 1, '2028-01-15'],
  ['0001-03-31', -1, '0001-02-28'],
  ['0001-01-31', -1, undefined],
  ['9999-12-01', 1, undefined],
])('%s and %i months are %s', (date, months, expected) => {
  expect(moved(date, 0, months)).toBe(expected);
});

it('knows which dates there are', () => {
  expect(['2000-02-29', '2400-02-29', '0001-01-01'].every(isDate)).toBe(true);
  expect(['1900-02-29', '2027-04-31', '2027-00-01', '0000-12-31', '02027-01-01'].some(isDate)).toBe(
    false,
  );
});

it('writes times in one way', () => {
  expect([time('09:05:00'), time('09:05:01'), time('9:05')]).toEqual([
    '09:05',
    '09:05:01',
    undefined,
  ]);
});

it('tells the date of a zone, not that of UTC', () => {
  const evening = Date.UTC(2027, 5, 30, 23, 30);
  expect(dateIn(evening, 'Europe/Lisbon')).toBe('2027-07-01');
  expect(dateIn(evening, 'America/New_York')).toBe('2027-06-30');
});
