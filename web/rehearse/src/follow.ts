import type { Values } from 'nodley-page';
import type { Bound } from './panel';

/** The service is asked for the form's revision so many milliseconds after it last answered. */
const PAUSE = 1000;

const stored = () => `nodley-rehearsal ${location.pathname}`;

/**
 * Loads the page anew when its form is published anew, and keeps what was typed for it, but for secrets. Ends with the page.
 *
 * @param revision asks for the form's current revision
 */
export function follow(
  { opened }: Pick<Bound, 'opened'>,
  secrets: string[],
  revision: () => Promise<number>,
): void {
  const look = async (): Promise<void> => {
    const now = await revision().catch(() => opened.description.revision);
    if (now === opened.description.revision) {
      setTimeout(() => void look(), PAUSE);
      return;
    }
    if (opened.unsaved()) {
      sessionStorage.setItem(stored(), JSON.stringify(without(secrets, opened.typed())));
      // Else the browser would ask whether to leave what is not saved.
      opened.clear();
    }
    location.reload();
  };
  setTimeout(() => void look(), PAUSE);
}

/** What was typed before the page was loaded anew; undefined if nothing was. Is given once. */
export function typedBefore(known: string[]): Values | undefined {
  const text = sessionStorage.getItem(stored());
  sessionStorage.removeItem(stored());
  const typed = text ? (JSON.parse(text) as Values) : undefined;
  // The form may have lost fields.
  return (
    typed && Object.fromEntries(Object.entries(typed).filter(([name]) => known.includes(name)))
  );
}

function without(names: string[], values: Values): Values {
  const inside = (value: unknown): unknown => {
    if (Array.isArray(value)) {
      return value.map(inside);
    }
    return value && typeof value === 'object' ? without(names, value as Values) : value;
  };
  const kept = Object.entries(values).filter(([name]) => !names.includes(name));
  return Object.fromEntries(kept.map(([name, value]) => [name, inside(value)])) as Values;
}
