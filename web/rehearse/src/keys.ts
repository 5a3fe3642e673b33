import type { Bound } from './panel';

/** A text of the form, by its key. */
export interface Text {
  key: string;
  text: string;
  from: string;
}

const MARK = 'rehearsed-key';

/** Puts the key of each text beside it. */
export function mark(form: HTMLFormElement, texts: Text[], opened: Bound['opened']): void {
  const page = form.closest('main') ?? form;
  const parts = page.querySelectorAll<HTMLElement>(
    'h1, h2, .intro, label, legend, .label, .help, .unit, button, .choice, .error, option',
  );
  for (const element of parts) {
    const text = own(element);
    const field = element.closest<HTMLElement>('[data-field]')?.dataset.field;
    const found = text ? keyOf(text, field, texts) : undefined;
    const error = element.matches('.error') && field && opened.state().fields[field]?.error;
    const key = found ?? (error ? `say.${error.code}` : undefined);
    if (key && !(element instanceof HTMLOptionElement)) {
      const badge = document.createElement('code');
      badge.className = MARK;
      badge.textContent = key;
      element.append(' ', badge);
    }
  }
}

export function unmark(form: HTMLFormElement): void {
  (form.closest('main') ?? form).querySelectorAll(`.${MARK}`).forEach((badge) => {
    if (badge.previousSibling?.textContent === ' ') {
      badge.previousSibling.remove();
    }
    badge.remove();
  });
}

/** The text of an element itself, without what is inside it. */
function own(element: Element): string {
  return [...element.childNodes]
    .filter((node) => node.nodeType === Node.TEXT_NODE)
    .map((node) => node.textContent?.trim())
    .join('');
}

/** Of texts that are alike, that of the field in which it stands. */
function keyOf(text: string, field: string | undefined, texts: Text[]): string | undefined {
  const alike = texts.filter((it) => it.text === text).map((it) => it.key);
  const path = field?.replace(/\[\d+\]/g, '').replaceAll('.', '.fields.');
  return alike.find((key) => path && key.startsWith(`fields.${path}.`)) ?? alike[0];
}
