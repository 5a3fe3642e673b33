import type { Field, Json, Values } from './description';
import type { Say } from './rules/message';
import type { Accepted } from './net/service';
import type { FormState } from './form/state';
import type { Line } from './dom/line';
import { put } from './tree';

type More = typeof import('./more');

let fetched: More | undefined;

/** Fetches what only some pages need, once, which must import nothing that this file has. */
export async function more(): Promise<More> {
  if (!fetched) {
    fetched = await import('./more');
    Object.assign(extras, fetched);
  }
  return fetched;
}

/** A record's values, in which each row says which kept row it is: an edit begins with these. */
export async function valuesWithRows(record: Pick<Accepted, 'values' | 'rows'>): Promise<Values> {
  return (await more()).numbered(record, put);
}

/**
 * What edits and programs need and a page that adds does not: until {@link more} has put the
 * real ones here, these stand in for them.
 */
export const extras = {
  /** The place of the kept row that each submitted row is; undefined for a new one. */
  matchRows: (_field: Field, sent: Values[], _kept: Values[]): (number | undefined)[] => [
    ...sent.keys(),
  ],
  /** What the summary says of what others changed. */
  changedLines: (
    _state: FormState,
    _say: Say,
    _called: (field: Field, value: Json) => string,
    _form: HTMLElement,
  ): Line[] => [],
  /** Where a field is that the form does not have, and what is said of it. */
  unknownField: (_say: Say, parent: string, name: string, _known: string[]) => ({
    pointer: parent,
    detail: name,
  }),
};
