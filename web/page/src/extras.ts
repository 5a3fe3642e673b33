import type { Field, Values } from './description';

/**
 * What edits and programs need and a page that adds does not: `more.ts` puts the real ones here,
 * and until it is there these stand in for them.
 */
export const extras = {
  /** The place of the kept row that each submitted row is; undefined for a new one. */
  matchRows: (_field: Field, sent: Values[], _kept: Values[]): (number | undefined)[] => [
    ...sent.keys(),
  ],
  /** The known name that was probably meant. */
  near: (_name: string, _known: string[]): string | undefined => undefined,
};
