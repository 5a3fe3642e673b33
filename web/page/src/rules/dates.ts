/** Dates, times and moments: proleptic Gregorian, years 0001 to 9999. */

const DATE = /^(\d{4})-(\d{2})-(\d{2})$/;
const TIME = /^(\d{2}):(\d{2})(?::(\d{2}))?$/;
const MOMENT =
  /^(\d{4}-\d{2}-\d{2})[Tt](\d{2}:\d{2}(?::\d{2})?)(?:\.(\d{1,9}))?([Zz]|[+-]\d{2}:\d{2})?$/;
const DAY = 86_400_000;
/**
 * Before this, zones keep one local mean time; and Intl counts by the Julian calendar before 1582.
 */
const OLDEST = Date.UTC(1700, 0, 1);
const FIRST = utc('0001-01-01');
const LAST = utc('9999-12-31') + DAY - 1;

/** `YYYY-MM-DD`. */
export function isDate(text: string): boolean {
  const parts = DATE.exec(text);
  if (!parts || parts[1] === '0000') {
    return false;
  }
  const [year, month, day] = parts.slice(1).map(Number) as [number, number, number];
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1];
  return days !== undefined && day >= 1 && day <= days;
}

/** The standard form of `hh:mm` or `hh:mm:ss`: without seconds where there are none. */
export function time(text: string): string | undefined {
  const parts = TIME.exec(text);
  const fits =
    parts && Number(parts[1]) < 24 && Number(parts[2]) < 60 && Number(parts[3] ?? 0) < 60;
  return fits ? text.replace(/^(..:..):00$/, '$1') : undefined;
}

/**
 * Milliseconds since 1970 of an RFC 3339 moment, or of a local time in a zone: of two such moments
 * the earlier, and none where a clock change skips the time.
 */
export function moment(text: string, zone: string): number | undefined {
  const parts = MOMENT.exec(text);
  const clock = parts && time(parts[2]!);
  if (!parts || !clock || !isDate(parts[1]!)) {
    return undefined;
  }
  if (parts[2]!.length === 5 && (parts[3] || parts[4])) {
    return undefined;
  }
  const [hours, minutes, seconds] = parts[2]!.split(':').map(Number);
  const ms = Number(((parts[3] ?? '0') + '00').slice(0, 3));
  const local = utc(parts[1]!) + ((hours! * 60 + minutes!) * 60 + (seconds ?? 0)) * 1000 + ms;
  const at = parts[4] ? withOffset(local, parts[4]) : inZone(local, zone);
  return at !== undefined && at >= FIRST && at <= LAST ? at : undefined;
}

function withOffset(local: number, offset: string): number | undefined {
  if (offset.toUpperCase() === 'Z') {
    return local;
  }
  const [hours, minutes] = offset.slice(1).split(':').map(Number) as [number, number];
  const ahead = (hours * 60 + minutes) * 60_000 * (offset[0] === '-' ? -1 : 1);
  return hours < 24 && minutes < 60 ? local - ahead : undefined;
}

/** A local time may lie up to a day from UTC; every offset in force around it is tried. */
function inZone(local: number, zone: string): number | undefined {
  const offsets = [local - DAY, local, local + DAY].map((at) => offsetAt(at, zone));
  const found = offsets
    .map((offset) => local - offset)
    .filter((at) => at + offsetAt(at, zone) === local);
  return found.length ? Math.min(...found) : undefined;
}

const formats = new Map<string, Intl.DateTimeFormat>();

/** How far the clocks of a zone are ahead of UTC at a moment, in milliseconds. */
function offsetAt(moment: number, zone: string): number {
  const at = Math.max(moment, OLDEST);
  let format = formats.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-u-ca-iso8601', {
      timeZone: zone,
      hourCycle: 'h23',
      era: 'short',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    });
    formats.set(zone, format);
  }
  const part = Object.fromEntries(format.formatToParts(at).map((it) => [it.type, it.value]));
  const date = new Date(0);
  date.setUTCFullYear(Number(part.year), Number(part.month) - 1, Number(part.day));
  date.setUTCHours(Number(part.hour), Number(part.minute), Number(part.second));
  return date.getTime() - Math.floor(at / 1000) * 1000;
}

/** Midnight of a date, in UTC, or of one so many months later; too short a month ends on its last day. */
function utc(date: string, months = 0): number {
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  const at = (month: number, day: number) => new Date(0).setUTCFullYear(year, month, day);
  return Math.min(at(month - 1 + months, day), at(month + months, 0));
}

/** The days from one date to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((utc(to) - utc(from)) / DAY);
}

/** The date so many days and months later; nothing beyond the years 0001 to 9999. */
export function moved(date: string, days: number, months?: number): string | undefined {
  const at = utc(date, months) + days * DAY;
  return at >= FIRST && at <= LAST ? new Date(at).toISOString().slice(0, 10) : undefined;
}

/** The date that the clocks of a zone show. */
export function dateIn(at: number, zone: string): string {
  return localIn(at, zone).slice(0, 10);
}

/** The date and time that the clocks of a zone show, as a datetime control wants it. */
export function localIn(at: number, zone: string): string {
  return new Date(at + offsetAt(at, zone)).toISOString().slice(0, -1);
}
