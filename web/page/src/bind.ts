import type { Description, Field, FieldError, Json, Values } from './description';
import { Opened, type FormState, type Moment } from './opened';
import type { Accepted, Service } from './service';
import { word } from './sentence';
import { leadOnClick, summarise } from './summary';
import { at, put } from './tree';

type Input = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

const MOMENTS: Moment[] = [
  'opened',
  'changed',
  'checked',
  'sending',
  'refused',
  'accepted',
  'failed',
  'closed',
];

/** What a developer decides of a form that is bound. */
export interface BindOptions {
  /** Does what a submission does, in place of adding or editing. */
  send?: (values: Values) => Promise<Accepted | void>;
}

/**
 * Binds a form of the page to the rules: the same HTML that works without script. Each moment of it
 * is an event of the form too: `nodley:accepted`.
 */
export function bind(
  form: HTMLFormElement,
  description: Description,
  service?: Service,
  options: BindOptions = {},
): Opened {
  let names = namesOf(form, description);
  const kept = outputsOf(form, description);
  const shown = { ...description, fields: present(description.fields, [...names, ...kept]) };
  const { mode, record, slow } = form.dataset;
  const hidden = (name: string) =>
    form.querySelector<HTMLInputElement>(`input[name="${name}"]`)?.value;
  const version = hidden('_version');
  const before = form.querySelector('script[data-before]')?.textContent;
  const told = before ? (JSON.parse(before) as Values) : undefined;
  const opened = new Opened(shown, {
    mode: mode === 'edit' ? 'edit' : 'add',
    // What is only shown has no control, and stays as it is.
    values: kept.reduce(
      (values, name) => put(values, name, at(told ?? {}, name)),
      valuesOf(form, names),
    ),
    errors: serverErrors(form, names),
    ...(told && { before: told }),
    ...(record && { record, version: Number(version) }),
    ...(service && { service }),
    key: hidden('_key') ?? '',
    ...options,
    ...(slow && { slow: Number(slow) }),
    follow: true,
  });
  for (const moment of MOMENTS) {
    opened.addEventListener(moment, (event) => {
      const { detail, cancelable } = event as CustomEvent<unknown>;
      const told = new CustomEvent(`nodley:${moment}`, { detail, cancelable, bubbles: true });
      if (!form.dispatchEvent(told)) {
        event.preventDefault();
      }
    });
  }
  window.addEventListener('beforeunload', (event) => {
    if (opened.unsaved()) {
      event.preventDefault();
    }
  });
  let last: FormState | undefined;
  const draw = () => {
    const state = opened.state();
    render(form, description, names, last, state);
    offer(form, names, opened);
    last = state;
  };
  draw();
  opened.subscribe(draw);
  const nameOf = (event: Event) => {
    const { name } = event.target as Input;
    return names.includes(name) ? name : undefined;
  };
  const type = (event: Event) => {
    const name = nameOf(event);
    if (name) {
      delete form.dataset.said;
      opened.set(name, value(form, name));
    }
  };
  // Some ways of choosing tell only that something has changed.
  form.addEventListener('input', type);
  form.addEventListener('change', type);
  // What came up while something is being pressed would move it away from the pointer.
  let pressing = false;
  window.addEventListener('pointerdown', () => {
    pressing = true;
    for (const end of ['pointerup', 'pointercancel']) {
      window.addEventListener(end, () => (pressing = false), { once: true });
    }
  });
  // It does not bubble, so it is caught on its way down.
  form.addEventListener(
    'blur',
    (event) => {
      const name = nameOf(event);
      if (name && !isWithin(form, name, event.relatedTarget)) {
        opened.set(name, value(form, name));
        const leave = () => opened.leave(name);
        if (pressing) {
          window.addEventListener('pointerup', () => setTimeout(leave), { once: true });
        } else {
          leave();
        }
      }
    },
    true,
  );
  leadOnClick(summary(form), (name) => (name ? opened.keepTheirs(name) : void opened.takeTheirs()));
  const initial = opened.typed();
  const wanted =
    form.querySelector('[data-search], [data-reveal], [name=_more]') ||
    names.some((name) => follows(fieldAt(description.fields, name)));
  const parts = wanted
    ? import('./more').then(({ equip }) =>
        equip({
          form,
          description,
          opened,
          service,
          initial,
          names: () => names,
          changed: () => (names = namesOf(form, description)),
          typed: (name) => at(opened.typed(), name),
          fieldAt: (name) => fieldAt(description.fields, name),
          inputs: (name) => inputs(form, name),
          show: (name, value) => show(form, name, value),
          say: (name, args) => word(description, name, args),
        }),
      )
    : undefined;
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    for (const name of names) {
      opened.set(name, value(form, name));
    }
    const button = event.submitter as HTMLButtonElement | null;
    if (button?.name.startsWith('_')) {
      void parts?.then((rows) => rows.press(button));
    } else {
      void send(form, opened);
    }
  });
  return opened;
}

/** Options that other values rule out cannot be chosen; one that is chosen already can be left. */
function offer(form: HTMLFormElement, names: string[], opened: Opened): void {
  for (const name of names) {
    const offered = opened.offered(name);
    if (offered) {
      for (const input of inputs(form, name)) {
        const choices = input instanceof HTMLSelectElement ? [...input.options] : [input];
        for (const choice of choices as (HTMLOptionElement | HTMLInputElement)[]) {
          const chosen = 'selected' in choice ? choice.selected : choice.checked;
          const open = choice.value === '' || chosen || offered.includes(choice.value);
          choice.disabled = !open;
          (choice.closest('label') ?? choice).toggleAttribute('hidden', !open);
        }
      }
    }
  }
}

/** A reference whose records depend on other values, as only the service can tell. */
function follows(field: Field | undefined): boolean {
  return field?.refersTo !== undefined && field.where !== undefined;
}

/** The names of the form's fields that have a control in the page. */
function namesOf(form: HTMLFormElement, description: Description): string[] {
  const all = [...form.querySelectorAll<Input>('input, textarea, select')].map((it) => it.name);
  return [...new Set(all)].filter((name) => fieldAt(description.fields, name) !== undefined);
}

/** The names of the fields that an edit shows as text. */
function outputsOf(form: HTMLFormElement, description: Description): string[] {
  return [...form.querySelectorAll<HTMLElement>('[data-mode=edit] [data-field]:has(> output)')]
    .map((box) => box.dataset.field!)
    .filter((name) => fieldAt(description.fields, name)?.compute === undefined);
}

function fieldAt(fields: Field[] | undefined, name: string): Field | undefined {
  const [first, ...rest] = name.replace(/\[\d+\]/g, '').split('.');
  const field = fields?.find((it) => it.name === first);
  return rest.length ? fieldAt(field?.fields, rest.join('.')) : field;
}

/** The page may show some of the fields; those that it lacks are none of its business. */
function present(fields: Field[], names: string[]): Field[] {
  const tops = new Set(names.map((name) => name.split(/[.[]/)[0]));
  return fields.filter((field) => tops.has(field.name) || field.compute !== undefined);
}

function valuesOf(form: HTMLFormElement, names: string[]): Values {
  return names.reduce<Values>((values, name) => put(values, name, value(form, name)), {});
}

async function send(form: HTMLFormElement, opened: Opened): Promise<void> {
  const outcome = await opened.submit();
  if (outcome.kind === 'accepted') {
    const { go, say } = outcome.record.after;
    const { after, clear } = form.dataset;
    if (after === 'stay' || !go) {
      if (go && form.dataset.mode !== 'edit') {
        opened.clear(clear === 'none' ? Object.keys(opened.state().fields) : clear?.split(' '));
      }
      form.dataset.said = say;
      write(form.querySelector('[data-working]'), say);
      return;
    }
    // The next page tells the outcome, as it does after a form sent without script.
    document.cookie = `nodley_said=${encodeURIComponent(say)}; path=/forms; max-age=60; samesite=lax`;
    location.assign(after || go);
  } else if (outcome.kind === 'refused') {
    const first = opened.wrong().find((name) => inputs(form, name).length > 0);
    const target = first ? inputs(form, first)[0] : summary(form);
    target?.focus();
  }
}

/** Errors that were in the page when it came, so that they leave when their field is mended. */
function serverErrors(form: HTMLFormElement, names: string[]): FieldError[] {
  return names.flatMap((name) => {
    const detail = part(form, name, '.error')?.textContent?.trim();
    const pointer = `#/${name.replace(/\[(\d+)\]/g, '/$1').replace(/\./g, '/')}`;
    return detail ? [{ pointer, code: '', detail }] : [];
  });
}

function inputs(form: HTMLFormElement, name: string): Input[] {
  return [...form.querySelectorAll<Input>('input, textarea, select')].filter(
    (input) => input.name === name,
  );
}

function value(form: HTMLFormElement, name: string): Json {
  const all = inputs(form, name) as HTMLInputElement[];
  const [first] = all;
  if (first?.type === 'radio') {
    return all.find((input) => input.checked)?.value ?? '';
  }
  if (first?.type === 'checkbox') {
    return first.dataset.many === undefined
      ? first.checked
      : all.filter((input) => input.checked).map((input) => input.value);
  }
  return first?.value ?? '';
}

/** What a select calls one of its options: the name of the record that a reference points at. */
function optionLabel(form: HTMLFormElement, name: string, value: Json): string | undefined {
  const [select] = inputs(form, name);
  return select instanceof HTMLSelectElement && value
    ? [...select.options].find((option) => option.value === value)?.text
    : undefined;
}

/** Radio buttons are one field: going from one to the next does not leave it. */
function isWithin(form: HTMLFormElement, name: string, target: EventTarget | null): boolean {
  return inputs(form, name).some((input) => input === target);
}

function holder(form: HTMLFormElement, name: string): HTMLElement | null {
  return form.querySelector<HTMLElement>(`[data-field="${name}"]`);
}

/** A part of a field's box; an error's place may be anywhere: `data-error="name"`. */
function part(form: HTMLFormElement, name: string, selector: string): HTMLElement | null {
  const own = selector.startsWith('.') ? `[data-${selector.slice(1)}="${name}"], ` : '';
  return form.querySelector<HTMLElement>(`${own}[data-field="${name}"] > ${selector}`);
}

function summary(form: HTMLFormElement): HTMLElement | null {
  return form.querySelector<HTMLElement>('[data-summary]');
}

function render(
  form: HTMLFormElement,
  description: Description,
  names: string[],
  before: FormState | undefined,
  state: FormState,
): void {
  for (const name of new Set([...Object.keys(state.fields), ...names])) {
    const field = state.fields[name];
    if (field && field === before?.fields[name]) {
      continue;
    }
    if (field && before) {
      show(form, name, field.value);
    }
    const box = holder(form, name);
    if (box) {
      box.hidden = field?.hidden ?? false;
    }
    const output = part(form, name, 'output');
    if (field && output) {
      write(output, String(field.value ?? ''));
    }
    for (const input of inputs(form, name)) {
      input.toggleAttribute('aria-invalid', false);
      if (field?.error) {
        input.setAttribute('aria-invalid', 'true');
      }
      input.disabled = field ? !field.editable : false;
    }
    box?.classList.toggle('wrong', Boolean(field?.error));
    const optional = box?.querySelector<HTMLElement>(
      ':scope > label .optional, :scope > fieldset > legend .optional',
    );
    if (optional && field) {
      optional.hidden = field.required;
    }
    write(part(form, name, '.error'), field?.error?.detail ?? '', field?.error?.link);
    const told = part(form, name, '.state');
    write(told, field?.said ?? '');
    const max = field?.field.length?.max;
    if (field?.length !== undefined && max) {
      write(
        part(form, name, '.counter'),
        word(description, 'counter', { count: field.length, max }),
      );
    }
    if (field?.field.control === 'slider') {
      write(box?.querySelector<HTMLElement>('.at') ?? null, String(field.value ?? ''));
    }
    if (told) {
      told.dataset.asked = field?.asked ?? 'not';
    }
  }
  summarise(
    summary(form),
    state,
    description,
    (name) => (inputs(form, name)[0] ?? holder(form, name))?.id,
    (name, value) => optionLabel(form, name, value),
  );
  write(
    form.querySelector<HTMLElement>('[data-working]'),
    state.slow ? word(description, 'saving') : (form.dataset.said ?? ''),
  );
  form.toggleAttribute('aria-busy', state.working);
}

function write(
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

/** Writes a tidied value back to its control, where it differs from what stands there. */
function show(form: HTMLFormElement, name: string, to: Json): void {
  const all = inputs(form, name) as HTMLInputElement[];
  const [first] = all;
  if (!first || JSON.stringify(value(form, name)) === JSON.stringify(to)) {
    return;
  }
  if (first.type === 'radio') {
    all.forEach((input) => (input.checked = input.value === to));
  } else if (first.type === 'checkbox') {
    all.forEach(
      (input) =>
        (input.checked = Array.isArray(to) ? (to as string[]).includes(input.value) : to === true),
    );
  } else if (typeof to !== 'object') {
    first.value = local(first, String(to ?? ''));
  }
}

/** A datetime control shows no offset: it stays as it was typed. */
function local(input: HTMLInputElement, text: string): string {
  return input.type === 'datetime-local' ? input.value : text;
}
