import type { Description, Message, Piece, PluralRules, Sentence, Word } from '../description';
import { number, shown, text, type Value } from './value';

/** What fills a sentence: the display text of an argument, and the value that chooses variants. */
export interface Arguments {
  text(name: string): string;
  value(name: string): Value;
}

/** Fills a message in, in one pass: an inserted brace stays a brace. */
export function fill(message: Message, args: Arguments): string {
  if (typeof message === 'string') {
    return message.replace(/\{([^{}]*)\}/g, (_, name: string) => args.text(name));
  }
  return message.map((piece) => part(piece, args)).join('');
}

/** Gives a word of the page in the form's language. */
export type Say = (name: Word, args?: Record<string, string | number>) => string;

/** A word of the page, such as `saving`, in the form's language. */
export function word(
  description: Description,
  name: Word,
  args: Record<string, string | number> = {},
): string {
  const given: Arguments = {
    text: (it) => String(args[it] ?? ''),
    value: (it) => (typeof args[it] === 'number' ? number(args[it]) : text(String(args[it] ?? ''))),
  };
  return fill(description.words[name], given);
}

function part(piece: Piece, args: Arguments): string {
  if (typeof piece === 'string') {
    return piece;
  }
  const [what, name, variants, rules] = piece;
  if (name === undefined || variants === undefined) {
    return args.text(what);
  }
  const value = args.value(name);
  const plain = shown(value);
  const exact = `=${plain}`;
  // Only a number is counted: of digits that are text, a plural has the `other` variant.
  const counted = (rules: PluralRules) =>
    value.kind !== 'number' ? 'other' : exact in variants ? exact : category(plain, rules);
  const chosen = rules ? counted(rules) : plain;
  const own = Object.hasOwn(variants, chosen) ? variants[chosen] : variants.other;
  return own!.map((inner) => part(inner, args)).join('');
}

/** The category of a number, as written without an exponent; undefined is `other`. */
function category(plain: string, rules: PluralRules): string {
  const [i, f = ''] = plain.replace('-', '').split('.');
  const operands = { n: +`${i}.${f}`, i: +i!, v: f.length, f: +f };
  return Object.keys(rules).find((it) =>
    rules[it]!.some((all) =>
      all.every(([operand, modulus, yes, ...spans]) => {
        const of = operands[operand] % modulus;
        return spans.some(([from, to]) => of >= from && of <= to) === yes;
      }),
    ),
  )!;
}

/** A sentence with its way out, filled in. */
export function told(
  sentence: Sentence,
  args: Arguments,
): { detail: string; link?: { text: string; href: string } } {
  if (typeof sentence === 'string' || Array.isArray(sentence)) {
    return { detail: fill(sentence as Message, args) };
  }
  const { text, link } = sentence as Exclude<Sentence, Message>;
  const href = link.href.replace(/\{([^{}]*)\}/g, (_, name: string) =>
    encodeURIComponent(args.text(name)),
  );
  return {
    detail: fill(text, args),
    link: { text: fill(link.text, args), href },
  };
}
