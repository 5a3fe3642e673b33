import type { Description, Message, Piece, Sentence, Word } from './description';
import { number, shown, text, type Value } from './value';

/** What fills a sentence: the display text of an argument, and the value that chooses variants. */
export interface Arguments {
  text(name: string): string;
  value(name: string): Value;
}

/** Fills a message in, in one pass: an inserted brace stays a brace. */
export function fill(message: Message, args: Arguments, language: string): string {
  if (typeof message === 'string') {
    return message.replace(/\{([^{}]*)\}/g, (_, name: string) => args.text(name));
  }
  return message.map((piece) => part(piece, args, language)).join('');
}

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
  return fill(description.words[name], given, description.language ?? 'en');
}

function part(piece: Piece, args: Arguments, language: string): string {
  if (typeof piece === 'string') {
    return piece;
  }
  const [what, name, variants] = piece;
  if (name === undefined || variants === undefined) {
    return args.text(what);
  }
  const value = args.value(name);
  const chosen =
    what === 'select' ? shown(value) : category(value, variants, what === 'ordinal', language);
  const own = Object.hasOwn(variants, chosen) ? variants[chosen] : variants.other;
  return own!.map((inner) => part(inner, args, language)).join('');
}

function category(
  value: Value,
  variants: Record<string, Piece[]>,
  ordinal: boolean,
  language: string,
): string {
  if (value.kind !== 'number') {
    return 'other';
  }
  const exact = `=${value.number.toFixed()}`;
  return Object.hasOwn(variants, exact)
    ? exact
    : new Intl.PluralRules(language, { type: ordinal ? 'ordinal' : 'cardinal' }).select(
        value.number.toNumber(),
      );
}

/** A sentence with its way out, filled in. */
export function told(
  sentence: Sentence,
  args: Arguments,
  language: string,
): { detail: string; link?: { text: string; href: string } } {
  if (typeof sentence === 'string' || Array.isArray(sentence)) {
    return { detail: fill(sentence as Message, args, language) };
  }
  const { text, link } = sentence as Exclude<Sentence, Message>;
  const href = link.href.replace(/\{([^{}]*)\}/g, (_, name: string) =>
    encodeURIComponent(args.text(name)),
  );
  return {
    detail: fill(text, args, language),
    link: { text: fill(link.text, args, language), href },
  };
}
