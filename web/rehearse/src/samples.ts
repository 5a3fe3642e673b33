import type { Field } from 'nodley-page';
import type { Bound } from './panel';
import { say } from './words';

type Values = Record<string, unknown>;

/** A sample that is wrong in one way. */
interface Fault {
  code: string;
  pointer: string;
  detail: string;
  values: Values;
}

/** Fills a form in with made-up values. */
export class Samples {
  #faults: Fault[] = [];

  constructor(
    private readonly ask: () => Promise<{ samples: Fault[] }>,
    /** What a record is called. */
    private readonly called: (form: string, id: string) => Promise<string>,
  ) {}

  /** What can be wrong, in words; what no control of the page can hold, nobody can type. */
  async faults({ form, opened }: Bound): Promise<string[]> {
    const can = ([name, value]: [string, unknown]) => {
      const first = name.replace(/\[\d+\]/g, '[0]');
      const controls = form.querySelectorAll<Control>(`[name="${CSS.escape(first)}"]`);
      return canHold(
        [...controls].filter((it) => it.type !== 'hidden'),
        value,
      );
    };
    const known = (name: string) => name.split(/[.[]/)[0]! in opened.state().fields;
    this.#faults = (await this.ask()).samples.filter(({ values }) =>
      flat('', values).every((it) => known(it[0]) && can(it)),
    );
    return this.#faults.map(({ pointer, code }) => `${pointer.slice(2) || 'the whole'}: ${code}`);
  }

  async wrong(bound: Bound, index: number): Promise<string> {
    const { values, detail } = this.#faults[index]!;
    await this.fill(bound, values);
    return detail;
  }

  async fill({ form, opened }: Bound, values: Values): Promise<string> {
    // What an earlier sample has left would be a second fault.
    opened.clear();
    for (const name of Object.keys(opened.state().fields).filter((it) => /^\w+$/.test(it))) {
      const { field, value } = opened.field(name);
      const wanted = (values[name] as unknown[] | undefined)?.length ?? 0;
      if (field.type === 'rows' && Array.isArray(value)) {
        value.slice(Math.max(1, wanted)).forEach(() => opened.removeRow(name, Math.max(1, wanted)));
      }
    }
    for (const [name, value] of Object.entries(values)) {
      this.#make(form, name, value);
    }
    for (const [name, value] of flat('', values)) {
      const control = form.querySelector<HTMLElement>(`[name="${CSS.escape(name)}"]`);
      if (control) {
        await this.#offer(control, opened.field(name).field, String(value));
        opened.set(name, value as never);
        opened.leave(name);
      }
    }
    return say('filled-in');
  }

  /** A search box knows of many records, and of many options, only once they are looked for. */
  async #offer(control: HTMLElement, field: Field, value: string): Promise<void> {
    const { refersTo, onService } = field;
    if (
      !(control instanceof HTMLSelectElement) ||
      !(refersTo ?? onService?.includes('options')) ||
      !value
    ) {
      return;
    }
    if (![...control.options].some((it) => it.value === value)) {
      control.append(new Option(refersTo ? await this.called(refersTo, value) : value, value));
    }
  }

  /** Rows that the page lacks are made by its own button. */
  #make(form: HTMLFormElement, name: string, value: unknown): void {
    if (!Array.isArray(value) || typeof value[0] !== 'object') {
      return;
    }
    const more = form.querySelector<HTMLElement>(`button[name=_more][value="${name}"]`);
    for (let row = 0; row < value.length; row++) {
      if (more && !form.querySelector(`[name^="${name}[${row}]"]`)) {
        more.click();
      }
    }
  }
}

type Control = HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement;

/** True if a person could have a control hold a value: a date's box holds dates and nothing else. */
function canHold([first, ...more]: Control[], value: unknown): boolean {
  const texts = (Array.isArray(value) ? value : [value]).map(String);
  if (!first || first.type === 'file') {
    return texts.every((it) => it === '');
  }
  if (/radio|checkbox/.test(first.type)) {
    const offered = [first, ...more].map((it) => it.value);
    return typeof value === 'boolean' || texts.every((it) => it === '' || offered.includes(it));
  }
  if (first instanceof HTMLSelectElement) {
    // A search box gets the option that it lacks.
    const offered = [...first.options].map((it) => it.value);
    return first.dataset.search !== undefined || texts.every((it) => offered.includes(it));
  }
  const copy = first.cloneNode() as HTMLInputElement | HTMLTextAreaElement;
  copy.value = texts[0] ?? '';
  return copy.value === texts[0];
}

/** Values by the names that a page has: `contact.email`, `crew[0].name`. */
function flat(prefix: string, value: unknown): [string, unknown][] {
  if (Array.isArray(value) && typeof value[0] === 'object') {
    return value.flatMap((row: unknown, index) => flat(`${prefix}[${index}]`, row));
  }
  if (value && typeof value === 'object' && !Array.isArray(value)) {
    return Object.entries(value).flatMap(([name, inner]) =>
      flat(prefix ? `${prefix}.${name}` : name, inner),
    );
  }
  return [[prefix, typeof value === 'number' ? String(value) : (value ?? '')]];
}
