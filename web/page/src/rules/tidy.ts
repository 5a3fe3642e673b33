import type { Tidying } from '../description';

/** Unicode's property White_Space (PropList.txt); JavaScript's own `\s` differs from it. */
export const WHITE =
  '\\u0009-\\u000D\\u0020\\u0085\\u00A0\\u1680\\u2000-\\u200A\\u2028\\u2029\\u202F\\u205F\\u3000';
const ENDS = new RegExp(`^[${WHITE}]+|[${WHITE}]+$`, 'g');
const RUN = new RegExp(`[${WHITE}]+`, 'g');
const RUN_IN_LINE = new RegExp(
  `[${WHITE.replace('\\u0009-\\u000D', '\\u0009\\u000B-\\u000D')}]+`,
  'g',
);

/** RFC 3986, section 3.1, with two slashes; or a scheme that takes none. */
const SCHEME = /^([A-Za-z][A-Za-z0-9+.-]*:\/\/|(mailto|javascript|data|tel|file):)/i;

/** True if a text has a character that is in no category that this browser knows. */
export function isNewer(pattern: string, text: string): boolean {
  return /\\p/i.test(pattern) && /\p{Cn}/u.test(text);
}

/** The text without White_Space at its ends. */
export function trim(text: string): string {
  return text.replace(ENDS, '');
}

/** Brings a typed text to its standard form: line ends, NFC, keep, trim, squeeze, case, scheme. */
export function tidy(text: string, how: Tidying): string {
  let tidied = text.replace(/\r\n?/g, '\n').normalize('NFC');
  if (how.keep) {
    const one = new RegExp(how.keep, 'u');
    const keep = how.keep;
    tidied = [...tidied].filter((it) => isNewer(keep, it) || one.test(it)).join('');
  }
  if (how.trim) {
    tidied = trim(tidied);
  }
  if (how.squeeze) {
    tidied = tidied.replace(how.squeeze === 'all' ? RUN : RUN_IN_LINE, ' ');
  }
  if (how.case) {
    tidied = how.case === 'upper' ? tidied.toUpperCase() : tidied.toLowerCase();
  }
  return how.scheme && isBare(tidied) ? `https://${tidied}` : tidied;
}

/** A host without a scheme; what has one, or something like one, is left for the rules. */
function isBare(text: string): boolean {
  return text !== '' && !text.startsWith('/') && !SCHEME.test(text);
}

/** Takes out of a phone number what only makes it easier to read. */
export function tidyPhone(text: string): string {
  return text.replace(/[ .()\u00A0\u2010-\u2013-]/g, '');
}
