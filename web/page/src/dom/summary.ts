import type { Controls } from './controls';
import type { Description } from '../description';
import { extras } from '../extras';
import type { Line } from './line';
import { word } from '../rules/message';
import type { FormState } from '../form/state';
import { fieldAt } from '../tree';
import { display } from '../rules/value';

/**
 * Leads to every error from one place at the top. It shows once the form was refused, and goes with
 * the last error.
 */
export function summarise(controls: Controls, state: FormState, description: Description): void {
  const box = controls.summary();
  const list = box?.querySelector('ul');
  const heading = box?.querySelector('h2');
  if (!box || !list || !heading) {
    return;
  }
  const wrong = Object.entries(state.fields).filter(([, field]) => field.error);
  const lines: Line[] = [
    ...wrong.map(([name, { field }]) => ({
      text: placed(description, name) + field.label,
      id: (controls.inputs(name)[0] ?? controls.part(name, 'fieldset'))?.id,
    })),
    ...state.others.map((text) => ({ text })),
    ...extras.changedLines(
      state,
      (name, args) => word(description, name, args),
      (field, value) => controls.optionLabel(field.name, value) || display(field, value),
      controls.form,
    ),
  ];
  const count = wrong.length + state.others.length;
  heading.textContent =
    state.conflict || state.elsewhere
      ? word(description, 'changed')
      : word(description, 'mend', { count });
  write(list, lines);
  box.hidden = lines.length === 0 || !state.refused;
}

/** The row that a field is in, as the strip calls it: `Crew 2: `. */
function placed({ fields }: Description, name: string): string {
  return [...name.matchAll(/\[(\d+)]/g)]
    .map(
      ({ 1: row, index }) => `${fieldAt(fields, name.slice(0, index))!.label} ${Number(row) + 1}: `,
    )
    .join('');
}

/**
 * Writes the lines, touching only what differs: pressing a link first leaves the field that had the
 * focus, and a link that were drawn anew just then would never be clicked.
 */
function write(list: HTMLElement, lines: Line[]): void {
  lines.forEach((line, index) => {
    const href = line.id ? `#${line.id}` : '';
    const item =
      [...list.children].slice(index).find((it) => hrefOf(it) === href) ??
      document.createElement('li');
    if (list.children[index] !== item) {
      list.insertBefore(item, list.children[index] ?? null);
    }
    let holder = item as HTMLElement;
    if (href) {
      const link = item.querySelector('a') ?? document.createElement('a');
      if (!link.parentElement) {
        link.setAttribute('href', href);
        item.replaceChildren(link);
      }
      holder = link;
    }
    if (holder.textContent !== line.text + (line.label ?? '')) {
      holder.textContent = line.text;
      holder.append(line.button?.() ?? '');
    }
  });
  [...list.children].slice(lines.length).forEach((item) => item.remove());
}

function hrefOf(item: Element): string {
  return item.querySelector('a')?.getAttribute('href') ?? '';
}
