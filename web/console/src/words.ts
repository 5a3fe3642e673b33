import type { Locale } from 'antd/es/locale';

/**
 * What the console says, in the language of whoever reads it. Texts stand in the sources in English; a language has a file
 * with each of them by its English text, and what it lacks is said in English.
 */
const LANGUAGES = {
  en: {
    name: 'English',
    load: () => Promise.resolve<Record<string, string>>({}),
    parts: () => import('antd/locale/en_US'),
  },
  de: {
    name: 'Deutsch',
    load: () => import('./languages/de').then((it) => it.DE),
    parts: () => import('antd/locale/de_DE'),
  },
  es: {
    name: 'Español',
    load: () => import('./languages/es').then((it) => it.ES),
    parts: () => import('antd/locale/es_ES'),
  },
};

export type Language = keyof typeof LANGUAGES;

export const CHOICES = Object.entries(LANGUAGES).map(([value, { name }]) => ({
  value: value as Language,
  label: name,
}));

const KEY = 'nodley-console-language';

let dictionary: Record<string, string> = {};
let current: Language = 'en';
let antd: Locale;

/** The language that was chosen here, else the first of the browser's that there is. */
function wanted(): Language {
  const chosen = localStorage.getItem(KEY);
  const asked = [chosen, ...navigator.languages].map((it) => it?.slice(0, 2).toLowerCase());
  return (asked.find((it) => it !== undefined && it in LANGUAGES) ?? 'en') as Language;
}

/** Loads the texts; to be awaited before anything is drawn. */
export async function speak(): Promise<void> {
  current = wanted();
  const { load, parts } = LANGUAGES[current];
  [dictionary, { default: antd }] = await Promise.all([load(), parts()]);
  document.documentElement.lang = current;
}

/** What Ant Design's own parts say. */
export function locale(): Locale {
  return antd;
}

export function language(): Language {
  return current;
}

/** Chooses another language, from the next page on. */
export function choose(next: Language): void {
  localStorage.setItem(KEY, next);
  location.reload();
}

/** A text in the reader's language; `{name}` stands for what is given under that name. */
export function t(text: string, given: Record<string, string | number> = {}): string {
  return (dictionary[text] ?? text).replace(/\{(\w+)\}/g, (whole, name: string) =>
    name in given ? String(given[name]) : whole,
  );
}
