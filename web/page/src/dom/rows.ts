import type { Json } from '../description';
import { drag, type Draggable } from './dragging';
import type { Page } from './page';

/** A name as the id of its control has it: `crew[1].name` is f-crew-1-name. */
function id(name: string): string {
  return `f-${name.replace(/\[/g, '-').replace(/\]/g, '').replace(/\./g, '-')}`;
}

/** The rows and the row that a button is for: `crew[1]`. */
function place(button: HTMLButtonElement): [string, number] {
  const [, name = '', index = ''] = /^(.*)\[(\d+)\]$/.exec(button.value) ?? [];
  return [name, Number(index)];
}

/** The buttons that add, remove and move rows; without script they send the page for that. */
export class RowButtons {
  constructor(private readonly page: Page) {
    drag(page.form, (grip) => this.#movable(grip));
  }

  /** The rows that a number stands in, where they can be moved and there is more than one. */
  #movable(grip: HTMLElement): Draggable | undefined {
    const row = grip.closest<HTMLElement>('fieldset.row, [data-row]');
    const box = row?.closest<HTMLElement>('[data-field]');
    const isGrip = grip.matches('[data-grip]') || grip.parentElement === row;
    const rows = box && isGrip ? this.#rows(box) : [];
    return rows.length > 1 && row!.querySelector('button[name=_up]')
      ? { rows, move: (from, to) => this.#move(box!.dataset.field!, from, to) }
      : undefined;
  }

  #move(name: string, from: number, to: number): void {
    const { opened } = this.page;
    for (let i = from; i > to; i--) {
      opened.raiseRow(name, i);
    }
    for (let i = from; i < to; i++) {
      opened.raiseRow(name, i + 1);
    }
    this.#show(name);
  }

  /** Writes the values of rows to their controls. */
  #show(rows: string): void {
    const { controls, opened } = this.page;
    controls.names
      .filter((name) => name.startsWith(`${rows}[`))
      .forEach((name) => controls.show(name, opened.field(name).value ?? ''));
  }

  /** As many rows stand in the page as are held: some may have come, or gone, from elsewhere. */
  follow(): void {
    const { controls, opened } = this.page;
    for (const box of controls.form.querySelectorAll<HTMLElement>('[data-field]')) {
      const name = box.dataset.field!;
      const rows = this.#rows(box);
      if (!rows.length) {
        continue;
      }
      const held = Math.max(1, ((opened.field(name).value || []) as Json[]).length);
      if (rows.length !== held) {
        rows.slice(held).forEach((row) => row.remove());
        for (let i = rows.length; i < held; i++) {
          const all = this.#rows(box);
          all[i - 1]!.after(this.#blank(all[i - 1]!, name, i));
        }
        this.#limit(name, box);
        controls.find();
        this.#show(name);
      }
    }
  }

  /** Does what a button says, if it is one of these. */
  press(button: HTMLButtonElement | null): boolean {
    const box = button?.closest<HTMLElement>('[data-field]');
    if (button?.name === '_more' && box) {
      this.#add(button.value, box);
    } else if (button?.name === '_less' && box) {
      const [name, index] = place(button);
      this.#remove(name, index, box);
    } else if (button?.name === '_up' && box) {
      const [name, index] = place(button);
      this.#raise(name, index, box);
    } else {
      return false;
    }
    return true;
  }

  #rows(box: HTMLElement): HTMLElement[] {
    const rows = box.querySelectorAll<HTMLElement>(':scope > fieldset > fieldset.row');
    const own = [...box.querySelectorAll<HTMLElement>('[data-row]')];
    // Those of rows inside of rows are theirs.
    return rows.length ? [...rows] : own.filter((it) => it.closest('[data-field]') === box);
  }

  #add(name: string, box: HTMLElement): void {
    const rows = this.#rows(box);
    const last = rows[rows.length - 1]!;
    const row = this.#blank(last, name, rows.length);
    last.after(row);
    this.#limit(name, box);
    this.page.controls.find();
    this.page.opened.addRow(name);
    row.querySelector<HTMLElement>('input, select, textarea')?.focus();
  }

  /** A copy of a row without what was typed there, under the next number. */
  #blank(last: HTMLElement, name: string, index: number): HTMLElement {
    const row = last.cloneNode(true) as HTMLElement;
    const from = [`${name}[${index - 1}]`, id(`${name}[${index - 1}]`)];
    const to = [`${name}[${index}]`, id(`${name}[${index}]`)];
    for (const element of row.querySelectorAll('*')) {
      for (const attribute of element.attributes) {
        from.forEach((it, i) => (attribute.value = attribute.value.replaceAll(it, to[i]!)));
      }
      if (element instanceof HTMLSelectElement) {
        element.selectedIndex = 0;
      } else if (element instanceof HTMLInputElement && /radio|checkbox/.test(element.type)) {
        element.checked = element.type === 'radio' && element.value === '';
      } else if (element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement) {
        element.value = '';
      } else if (element.matches('.error, .state')) {
        element.textContent = '';
      }
      element.classList.remove('wrong');
      element.removeAttribute('aria-invalid');
    }
    const legend = row.querySelector('legend');
    if (legend) {
      legend.textContent = String(index + 1);
    }
    for (const name of ['less', 'up'] as const) {
      const button = row.querySelector<HTMLElement>(`:scope > .tools > button[name=_${name}]`);
      if (button) {
        button.ariaLabel = this.page.say(`row.${name}`, { number: index + 1 });
        button.title = button.ariaLabel;
        button.hidden = false;
      }
    }
    return row;
  }

  /** The last of the rows in the page goes; the values behind the one that is removed move up. */
  #remove(name: string, index: number, box: HTMLElement): void {
    const rows = this.#rows(box);
    if (rows.length > 1) {
      rows.pop()!.remove();
    }
    this.#limit(name, box);
    this.page.controls.find();
    this.page.opened.removeRow(name, index);
    this.#show(name);
    const next = rows[Math.min(index, rows.length - 1)];
    next?.querySelector<HTMLElement>('button[name=_less]')?.focus();
  }

  #raise(name: string, index: number, box: HTMLElement): void {
    this.page.opened.raiseRow(name, index);
    this.#show(name);
    const raised = this.#rows(box)[index - 1];
    const up = raised?.querySelector<HTMLElement>('button[name=_up]');
    (up?.hidden ? up.parentElement!.querySelector<HTMLElement>('input, select') : up)?.focus();
  }

  /** What takes no more rows does not offer one. */
  #limit(name: string, box: HTMLElement): void {
    const max = this.page.controls.field(name)?.count?.max ?? Infinity;
    const more = box.querySelector<HTMLElement>('button[name="_more"]');
    more?.toggleAttribute('hidden', this.#rows(box).length >= max);
  }
}
