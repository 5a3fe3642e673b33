import type { Description, FieldError, Json } from './description';
import { Opened, type FormState } from './opened';
import type { Service } from './service';
import { leadOnClick, summarise } from './summary';

type Input = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

/** Binds a form of the page to the rules: the same HTML that works without script. */
export function bind(form: HTMLFormElement, description: Description, service?: Service): Opened {
  const fields = description.fields.filter((field) => inputs(form, field.name).length > 0);
  const shown = { ...description, fields };
  const { mode, record } = form.dataset;
  const version = form.querySelector<HTMLInputElement>('input[name="_version"]')?.value;
  const errors = serverErrors(
    form,
    fields.map((field) => field.name),
  );
  const opened = new Opened(shown, {
    mode: mode === 'edit' ? 'edit' : 'add',
    values: Object.fromEntries(fields.map((field) => [field.name, value(form, field.name)])),
    errors,
    ...(record && { record, version: Number(version) }),
    ...(service && { service }),
  });
  let before = opened.state();
  opened.subscribe(() => {
    const state = opened.state();
    render(form, shown, before, state);
    before = state;
  });
  for (const field of fields) {
    for (const input of inputs(form, field.name)) {
      input.addEventListener('input', () => opened.set(field.name, value(form, field.name)));
      input.addEventListener('blur', (event) => {
        if (!isWithin(form, field.name, (event as FocusEvent).relatedTarget)) {
          opened.set(field.name, value(form, field.name));
          opened.leave(field.name);
        }
      });
    }
  }
  leadOnClick(summary(form));
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    for (const field of fields) {
      opened.set(field.name, value(form, field.name));
    }
    void send(form, opened);
  });
  return opened;
}

async function send(form: HTMLFormElement, opened: Opened): Promise<void> {
  const outcome = await opened.submit();
  if (outcome.kind === 'accepted') {
    const { go, say } = outcome.record.after;
    // The next page tells the outcome, as it does after a form sent without script.
    document.cookie = `nodley_said=${encodeURIComponent(say)}; path=/forms; max-age=60; samesite=lax`;
    location.assign(go);
  } else if (outcome.kind === 'refused') {
    const [first] = opened.wrong();
    const target = first ? inputs(form, first)[0] : summary(form);
    target?.focus();
  }
}

/** Errors that were in the page when it came, so that they leave when their field is mended. */
function serverErrors(form: HTMLFormElement, names: string[]): FieldError[] {
  return names.flatMap((name) => {
    const detail = part(form, name, '.error')?.textContent?.trim();
    return detail ? [{ pointer: `#/${name}`, code: '', detail }] : [];
  });
}

function inputs(form: HTMLFormElement, name: string): Input[] {
  return [...form.querySelectorAll<Input>('input, textarea, select')].filter(
    (input) => input.name === name,
  );
}

function value(form: HTMLFormElement, name: string): Json {
  const all = inputs(form, name);
  const [first] = all;
  if (first instanceof HTMLInputElement && first.type === 'radio') {
    return all.find((input) => (input as HTMLInputElement).checked)?.value ?? '';
  }
  return first instanceof HTMLInputElement && first.type === 'checkbox'
    ? first.checked
    : (first?.value ?? '');
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

function part(form: HTMLFormElement, name: string, selector: string): HTMLElement | null {
  return form.querySelector<HTMLElement>(`[data-field="${name}"] ${selector}`);
}

function summary(form: HTMLFormElement): HTMLElement | null {
  return form.querySelector<HTMLElement>('[data-summary]');
}

function render(
  form: HTMLFormElement,
  description: Description,
  before: FormState,
  state: FormState,
): void {
  for (const { name } of description.fields) {
    const field = state.fields[name]!;
    const old = before.fields[name]!;
    if (field === old) {
      continue;
    }
    show(form, name, field.value);
    const all = inputs(form, name);
    for (const input of all) {
      if (field.error) {
        input.setAttribute('aria-invalid', 'true');
      } else {
        input.removeAttribute('aria-invalid');
      }
    }
    all[0]?.closest('.field')?.classList.toggle('wrong', Boolean(field.error));
    write(part(form, name, '.error'), field.error?.detail ?? '');
    const told = part(form, name, '.state');
    write(told, field.said);
    if (told) {
      told.dataset.asked = field.asked;
    }
  }
  summarise(
    summary(form),
    description,
    state,
    (name) => inputs(form, name)[0]?.id,
    (name, value) => optionLabel(form, name, value),
  );
  write(form.querySelector<HTMLElement>('[data-working]'), state.working ? 'Saving…' : '');
  form.toggleAttribute('aria-busy', state.working);
}

function write(element: HTMLElement | null, text: string): void {
  if (element && element.textContent !== text) {
    element.textContent = text;
  }
}

/** Writes a tidied value back to its control, where it differs from what stands there. */
function show(form: HTMLFormElement, name: string, to: Json): void {
  const all = inputs(form, name);
  const [first] = all;
  if (!first || value(form, name) === to) {
    return;
  }
  if (first instanceof HTMLInputElement && first.type === 'radio') {
    all.forEach((input) => ((input as HTMLInputElement).checked = input.value === to));
  } else if (first instanceof HTMLInputElement && first.type === 'checkbox') {
    first.checked = to === true;
  } else {
    first.value = String(to ?? '');
  }
}
