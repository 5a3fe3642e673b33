import type { FieldError } from '../description';
import type { Asked } from './state';

/** What is known of a field besides its rules. */
export interface Note {
  /** The person has been there, so its errors show. */
  visited: boolean;
  /** The service's error, and the value that it is about: it counts while the value stands. */
  told?: { error: FieldError; of: string } | undefined;
  asked: Asked;
  said: string;
  /** What became of what was typed, in a word. */
  changed?: string | undefined;
}

/** The notes of fields, by name. */
export type Notes = Map<string, Note>;

/** The note of a field; a field of which nothing is known gets a blank one. */
export function noteOf(notes: Notes, name: string): Note {
  let note = notes.get(name);
  if (!note) {
    notes.set(name, (note = { visited: false, asked: 'not', said: '' }));
  }
  return note;
}

/** Forgets the fields whose names these are, such as those of rows that were renumbered. */
export function forget(notes: Notes, isGone: (name: string) => boolean): void {
  [...notes.keys()].filter(isGone).forEach((it) => notes.delete(it));
}
