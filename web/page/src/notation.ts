/** How a language writes numbers and dates where people read and type them. */
export interface Notation {
  /** A typed number in standard form, if it is written in the language's way; else as it is. */
  standard: (typed: string) => string;
  /** A number as a control shows it: without groups, so that it can be typed over. */
  typed: (number: string) => string;
  /** A number, a date, as it is read. */
  shown: (value: string, type: string) => string;
}

/**
 * The ways of a language that is not English, as the browser knows them.
 *
 * @param form a page that Nodley did not make has its numbers in standard form, to begin with
 */
export function notation(language: string, form?: HTMLFormElement): Notation {
  const format = new Intl.NumberFormat(language, { maximumFractionDigits: 20 });
  const part = (wanted: string) =>
    format.formatToParts(1234567.8).find(({ type }) => type === wanted)?.value ?? '';
  const point = part('decimal');
  const quoted = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const group = part('group').trim();
  const between = group ? quoted(group) : '[ \u00A0\u202F]';
  const written = new RegExp(
    `^-?([0-9]{1,3}(${between}[0-9]{3})+|[0-9]*)(${quoted(point)}[0-9]+)?$`,
  );
  const digits = [...'0123456789'].map((it) => format.format(Number(it)));
  const own = form?.querySelector('[name=_language]');
  for (const input of own ? [] : (form?.querySelectorAll<HTMLInputElement>('input') ?? [])) {
    if (/^-?[0-9]*\.[0-9]+$/.test(input.value) && /^(text|number)?$/.test(input.type)) {
      input.value = input.value.replace('.', point);
    }
  }
  return {
    standard(typed) {
      const text = digits.reduce((all, it, i) => all.replaceAll(it, String(i)), typed.trim());
      if (!text || !written.test(text)) {
        return typed;
      }
      const [whole = '', places] = text.split(point);
      return whole.replace(/[^0-9-]/g, '') + (places ? `.${places}` : '');
    },
    typed: (number) => number.replace('.', point),
    shown(value, type) {
      if (type === 'date' && /^\d{4}-/.test(value)) {
        const day = new Date(`${value}T00:00:00Z`);
        return new Intl.DateTimeFormat(language, { dateStyle: 'medium', timeZone: 'UTC' }).format(
          day,
        );
      }
      // As text, a number keeps all its digits.
      return /^(integer|decimal)$/.test(type) && /^-?[0-9.]+$/.test(value)
        ? format.format(value as unknown as number)
        : value;
    },
  };
}
