import { json } from '../access';

export interface Hour {
  form: string;
  /** When it begins, in milliseconds since 1970. */
  hour: number;
  verdict: string;
  count: number;
}

/** Where people struggle with a form. */
export interface Struggles {
  accepted: number;
  refused: number;
  failed: number;
  struggled: number;
  left: number;
  medianSeconds?: number;
  fields: {
    field: string;
    refused: number;
    mended: number;
    codes: { code: string; count: number }[];
  }[];
}

export const hours = async (query: URLSearchParams) =>
  (await json<{ counts: Hour[] }>(`/attempts/hours?${query}`)).counts;
export const struggles = (query: URLSearchParams) =>
  json<Struggles>(`/attempts/struggles?${query}`);

/** How many came in one hour or day, by what became of them. */
export interface Slot {
  from: number;
  accepted: number;
  refused: number;
  failed: number;
}

export const HOUR = 3_600_000;
export const DAY = 24 * HOUR;

/** Sums counts up in slots of a length, from one moment to another; slots without any are there, too. */
export function slots(counts: Hour[], since: number, until: number, length: number): Slot[] {
  const begin = Math.floor(since / length) * length;
  const all: Slot[] = [];
  for (let from = begin; from < until; from += length) {
    all.push({ from, accepted: 0, refused: 0, failed: 0 });
  }
  for (const { hour, verdict, count } of counts) {
    const slot = all[Math.floor((hour - begin) / length)];
    if (slot) {
      // A repeated one was accepted before; a trapped one was a program's.
      if (verdict === 'accepted' || verdict === 'refused') {
        slot[verdict] += count;
      } else if (verdict === 'failed') {
        slot.failed += count;
      }
    }
  }
  return all;
}

/** The forms by how much was sent to them, with the share that was refused. */
export function byForm(counts: Hour[]): { form: string; sent: number; refused: number }[] {
  const all = new Map<string, { form: string; sent: number; refused: number }>();
  for (const { form, verdict, count } of counts) {
    const line = all.get(form) ?? { form, sent: 0, refused: 0 };
    line.sent += count;
    line.refused += verdict === 'refused' ? count : 0;
    all.set(form, line);
  }
  return [...all.values()].sort((a, b) => b.sent - a.sent);
}
