import { localIn, moment } from '../rules/dates';
import type { Description, Field, Json, Values } from '../description';
import type { Notation } from '../notation';
import { fieldAt, put } from '../tree';
import { display } from '../rules/value';

type Input = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

/**
 * The controls of a form in a page and the places around them. They are looked for once: a form may
 * have hundreds, and each key asks for them.
 */
export class Controls {
  /** The names of the form's fields that have a control. */
  names: string[] = [];
  readonly #inputs = new Map<string, Input[]>();
  readonly #places = new Map<string, HTMLElement | null>();

  constructor(
    readonly form: HTMLFormElement,
    private readonly description: Description,
    /** Of a language that does not write numbers in standard form. */
    private readonly notation?: Notation,
  ) {
    this.find();
  }

  /** Looks for them again: rows have come or gone. */
  find(): void {
    this.#inputs.clear();
    this.#places.clear();
    for (const input of this.form.querySelectorAll<Input>('input, textarea, select')) {
      if (input.type === 'hidden' && this.field(input.name)?.type === 'boolean') {
        continue; // It says for those without script that the box is not ticked.
      }
      this.#inputs.set(input.name, [...this.inputs(input.name), input]);
    }
    this.names = [...this.#inputs.keys()].filter((name) => this.field(name));
  }

  field(name: string): Field | undefined {
    return fieldAt(this.description.fields, name);
  }

  inputs(name: string): Input[] {
    return this.#inputs.get(name) ?? [];
  }

  /** The box of a field: its label, its control, and what is said of it. */
  box(name: string): HTMLElement | null {
    return this.#place(`[data-field="${name}"]`);
  }

  /** A part of a field's box; an error's place may be anywhere: `data-error="name"`. */
  part(name: string, selector: string): HTMLElement | null {
    const own = selector.startsWith('.') ? `[data-${selector.slice(1)}="${name}"], ` : '';
    return this.#place(`${own}[data-field="${name}"] > ${selector}`);
  }

  #place(selector: string): HTMLElement | null {
    let place = this.#places.get(selector);
    if (place === undefined) {
      place = this.form.querySelector<HTMLElement>(selector);
      this.#places.set(selector, place);
    }
    return place;
  }

  summary(): HTMLElement | null {
    return this.#place('[data-summary]');
  }

  working(): HTMLElement | null {
    return this.#place('[data-working]');
  }

  /**
   * What is typed, for all of these fields. In a row in which nothing stands, a control waits for
   * the first value of its field: it shows as soon as the row is begun.
   *
   * @param blank whether that is so of all controls in which nothing stands
   */
  values(blank = false): Values {
    const isBlank = (name: string) => !this.value(name)?.toString().replace('false', '');
    return this.names.reduce<Values>((all, name) => {
      const { default: first, defaultTo = first } = this.field(name)!;
      const [row] = /^.*]\./.exec(name) ?? [];
      const waits =
        defaultTo !== undefined &&
        isBlank(name) &&
        (blank || (row && this.names.every((it) => !it.startsWith(row) || isBlank(it))));
      return waits ? all : put(all, name, this.value(name));
    }, {});
  }

  /** The same, in which each row says which kept row it is. */
  rowNumbers(values: Values): Values {
    return [...this.#inputs.keys()]
      .filter((name) => name.endsWith('._row'))
      .reduce((all, name) => put(all, name, this.value(name)), values);
  }

  value(name: string): Json {
    const all = this.inputs(name) as HTMLInputElement[];
    const [first] = all;
    if (first?.type === 'radio') {
      return all.find((input) => input.checked)?.value ?? '';
    }
    const { type, count } = this.field(name) ?? {};
    const chosen = all.filter((input) => input.checked).map((input) => input.value);
    if (type === 'file' && !count) {
      return chosen.at(-1) ?? '';
    }
    if (type === 'choices' || type === 'file') {
      return chosen;
    }
    if (first?.type === 'checkbox') {
      return first.checked;
    }
    const text = first?.value ?? '';
    return this.#speaks(name) ? this.notation!.standard(text) : text;
  }

  /** A value as its control shows it: a number in the language, a moment in local time. */
  #written(name: string, text: string): string {
    if (this.#speaks(name)) {
      return this.notation!.typed(text);
    }
    const { zone = 'UTC' } = this.description;
    const at = this.field(name)?.control === 'datetime' ? moment(text, zone) : undefined;
    return at === undefined ? text : localIn(at, zone);
  }

  /** True if a number stands in a control as the language writes it. */
  #speaks(name: string): boolean {
    const { control = '' } = this.field(name) ?? {};
    const isBox = (this.inputs(name)[0] as HTMLInputElement)?.type !== 'range';
    return Boolean(this.notation) && /number|slider/.test(control) && isBox;
  }

  /** How a number was understood, if it is written otherwise; else empty. */
  understood(name: string): string {
    const text = this.#speaks(name) ? this.#written(name, this.value(name) as string) : '';
    return /^-?[0-9]/.test(text) && text !== this.inputs(name)[0]!.value.trim() ? text : '';
  }

  /** A value as it is read. */
  shown(field: Field, value: Json): string {
    const blank = value === null || value === undefined || value === '';
    const text = blank ? '' : display({ ...field, unit: '' }, value);
    return this.notation?.shown(text, field.type) ?? text;
  }

  /** Writes a value to its control, where it differs from what stands there. */
  show(name: string, to: Json): void {
    const all = this.inputs(name) as HTMLInputElement[];
    const [first] = all;
    const is = first && this.value(name);
    if (!first || is === to || JSON.stringify(is) === JSON.stringify(to)) {
      return;
    }
    if (first.type === 'radio') {
      all.forEach((input) => (input.checked = input.value === to));
    } else if (first.type === 'checkbox') {
      all.forEach(
        (input) =>
          (input.checked = Array.isArray(to)
            ? (to as string[]).includes(input.value)
            : to === true),
      );
    } else if (typeof to !== 'object' && first.type !== 'file') {
      first.value = this.#written(name, String(to ?? ''));
    }
  }

  /** What a select calls one of its options: the name of the record that a reference points at. */
  optionLabel(name: string, value: Json): string | undefined {
    const [select] = this.inputs(name);
    return select instanceof HTMLSelectElement && value
      ? [...select.options].find((option) => option.value === value)?.text
      : undefined;
  }
}
