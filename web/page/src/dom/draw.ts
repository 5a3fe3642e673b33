import type { Controls } from './controls';
import type { Description } from '../description';
import type { OpenForm } from '../form/open-form';
import { word } from '../rules/message';
import type { FieldState, FormState } from '../form/state';
import { summarise } from './summary';

/** Draws what has changed of an opened form's state into the page. */
export function draw(
  controls: Controls,
  description: Description,
  opened: OpenForm,
  before: FormState | undefined,
): FormState {
  const state = opened.state();
  const { form } = controls;
  for (const name of new Set([...Object.keys(state.fields), ...controls.names])) {
    const field = state.fields[name];
    if (!field || field !== before?.fields[name]) {
      drawField(controls, description, name, field, before !== undefined);
    }
  }
  summarise(controls, state, description);
  write(controls.working(), state.slow ? word(description, 'saving') : (form.dataset.said ?? ''));
  form.toggleAttribute('aria-busy', state.working);
  return state;
}

function drawField(
  controls: Controls,
  description: Description,
  name: string,
  field: FieldState | undefined,
  again: boolean,
): void {
  if (field && again) {
    controls.show(name, field.value);
  }
  const box = controls.box(name);
  if (box) {
    box.hidden = field?.hidden ?? false;
  }
  const output = controls.part(name, 'output');
  // To begin with it says what the service has written, which knows what records are called.
  if (field && output && (again || !output.textContent)) {
    write(output, controls.shown(field.field, field.value));
  }
  const { wrong } = controls.form.dataset;
  for (const input of controls.inputs(name)) {
    input.toggleAttribute('aria-invalid', false);
    if (field?.error) {
      input.setAttribute('aria-invalid', 'true');
    }
    wrong
      ?.trim()
      .split(' ')
      .forEach((it) => input.classList.toggle(it, Boolean(field?.error)));
    input.disabled = field ? !field.editable : false;
  }
  box?.classList.toggle('wrong', Boolean(field?.error));
  const needed = box?.querySelector<HTMLElement>(
    ':scope > label .needed, :scope > fieldset > legend .needed',
  );
  if (needed && field) {
    needed.hidden = !field.required;
  }
  write(controls.part(name, '.error'), field?.error?.detail ?? '', field?.error?.link);
  const told = controls.part(name, '.state');
  write(told, field?.said ?? '');
  if (told) {
    told.dataset.asked = field?.asked ?? 'not';
  }
  const max = field?.field.length?.max;
  const counter = controls.part(name, '.counter');
  if (counter && field?.length !== undefined && max) {
    const over = field.length - max;
    const [key, count] =
      over > 0 ? (['counter.over', over] as const) : (['counter', field.length] as const);
    write(counter, word(description, key, { count, max }));
    counter.classList.toggle('over', over > 0);
  }
  if (field?.field.control === 'slider') {
    write(box?.querySelector<HTMLElement>('.at') ?? null, String(field.value ?? ''));
  }
}

export function write(
  element: HTMLElement | null,
  text: string,
  link?: { text: string; href: string },
): void {
  if (!element || element.textContent === (link ? `${text} ${link.text}` : text)) {
    return;
  }
  element.textContent = text;
  if (link) {
    const anchor = document.createElement('a');
    anchor.href = link.href;
    anchor.textContent = link.text;
    element.append(' ', anchor);
  }
}
