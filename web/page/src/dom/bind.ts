import { Controls } from './controls';
import type { Description, Field, FieldError, Values } from '../description';
import { draw, write } from './draw';
import type { Notation } from '../notation';
import { OpenForm } from '../form/open-form';
import type { Service } from '../net/service';
import { word } from '../rules/message';
import type { FormState, OpenOptions } from '../form/state';
import { at, fieldAt, put } from '../tree';
import { unshadowed } from './unshadowed';
import { more } from '../extras';

/** What a developer decides of a form that is bound. */
export interface BindOptions extends Partial<OpenOptions> {
  notation?: Notation | undefined;
  /** The page is one of a developer's own: a blank control takes the first value of its field. */
  own?: boolean;
}

/**
 * Binds a form of the page to the rules: the same HTML that works without script. Each moment of it
 * is an event of the form too: `nodley:accepted`.
 */
export function bind(
  place: HTMLFormElement,
  description: Description,
  service?: Service,
  options: BindOptions = {},
): OpenForm {
  const form = unshadowed(place);
  const controls = new Controls(form, description, options.notation);
  const kept = outputsOf(form, description);
  const shown = {
    ...description,
    fields: present(description.fields, [...controls.names, ...kept]),
  };
  const { mode, record, slow } = form.dataset;
  const isElsewhere = new URL(service?.base ?? '', location.href).origin !== location.origin;
  const hidden = (name: string) =>
    form.querySelector<HTMLInputElement>(`input[name="${name}"]`)?.value;
  const version = hidden('_version');
  const before = form.querySelector('script[data-before]')?.textContent;
  const told = before ? (JSON.parse(before) as Values) : undefined;
  const opened = new OpenForm(shown, {
    mode: mode === 'edit' ? 'edit' : 'add',
    // What is only shown has no control, and stays as it is.
    values: controls.rowNumbers(
      kept.reduce(
        (values, name) => put(values, name, at(told ?? {}, name)),
        controls.values(options.own),
      ),
    ),
    errors: serverErrors(controls),
    ...(told && { before: told }),
    ...(record && { record, version: Number(version) }),
    ...(service && { service }),
    key: hidden('_key') ?? '',
    ...options,
    ...(slow && { slow: Number(slow) }),
    follow: true,
  });
  // The form in the page tells each moment too, and may hold what is held there.
  opened.dispatchEvent = (event) => {
    const { type, detail, cancelable } = event as CustomEvent<unknown>;
    const told = new CustomEvent(`nodley:${type}`, { detail, cancelable, bubbles: true });
    return form.dispatchEvent(told) && EventTarget.prototype.dispatchEvent.call(opened, event);
  };
  // What is bound to the page goes with the form.
  const closing = new AbortController();
  const { signal } = closing;
  opened.addEventListener('closed', () => closing.abort());
  window.addEventListener(
    'beforeunload',
    (event) => {
      if (opened.unsaved()) {
        event.preventDefault();
      }
    },
    { signal },
  );
  let last: FormState | undefined;
  const redraw = () => {
    last = draw(controls, description, opened, last);
  };
  redraw();
  if (options.own) {
    controls.names.forEach((name) => controls.show(name, opened.field(name).value));
  }
  opened.subscribe(redraw);
  const nameOf = (event: Event) => {
    const { name } = event.target as HTMLInputElement;
    // What an input method is putting together is not typed yet.
    return !(event as InputEvent).isComposing && controls.names.includes(name) ? name : undefined;
  };
  // A box to choose files has no value: those of a record stay until their list says otherwise.
  const take = (name: string) =>
    controls.inputs(name).some((it) => it.type !== 'file') &&
    opened.set(name, controls.value(name));
  const type = (event: Event) => {
    const name = nameOf(event);
    if (name) {
      delete form.dataset.said;
      take(name);
    }
  };
  // What follows an acceptance is there by then, though the line may be lost meanwhile.
  form.addEventListener('input', () => void more().catch(() => undefined), { once: true });
  // Some ways of choosing tell only that something has changed.
  for (const kind of ['input', 'change', 'compositionend']) {
    form.addEventListener(kind, type);
  }
  // What came up while something is being pressed would move it away from the pointer.
  let pressing = false;
  const press = () => {
    pressing = true;
    for (const end of ['pointerup', 'pointercancel']) {
      window.addEventListener(end, () => (pressing = false), { once: true });
    }
  };
  window.addEventListener('pointerdown', press, { signal });
  // It does not bubble, so it is caught on its way down.
  form.addEventListener(
    'blur',
    (event) => {
      const name = nameOf(event);
      // Radio buttons are one field: going from one to the next does not leave it.
      const stays = name && controls.inputs(name).some((it) => it === event.relatedTarget);
      // Nobody chose to go where the focus was put for the next record.
      const fresh = name && name === form.dataset.fresh && !opened.unsaved();
      delete form.dataset.fresh;
      if (name && !stays && !fresh) {
        take(name);
        const leave = () => opened.leave(name, controls.understood(name));
        if (pressing) {
          window.addEventListener('pointerup', () => setTimeout(leave), { once: true });
        } else {
          leave();
        }
      }
    },
    true,
  );
  const initial = opened.typed();
  // An edit needs it too, perhaps when the network is lost; so does whoever is not the first to save the only record.
  const wanted =
    mode === 'edit' ||
    description.records ||
    form.querySelector('[data-search], [data-reveal], [name=_more], [name=_keep], [type=file]') ||
    controls.names.some((name) => controls.field(name)!.where !== undefined);
  const parts = wanted
    ? more().then(({ equip }) =>
        equip({
          form,
          description,
          opened,
          service,
          initial,
          controls,
          say: (name, args) => word(description, name, args),
        }),
      )
    : undefined;
  form.addEventListener('submit', (event) => {
    // No person fills this in; the service knows what to do with it.
    if (hidden('_remarks')) {
      return;
    }
    // Files that nothing has taken go with the form, as they do without script.
    const untaken = controls.names.flatMap((name) => controls.inputs(name)).some(hasFiles);
    if (untaken && hidden('_language')) {
      return;
    }
    event.preventDefault();
    if (untaken) {
      write(controls.working(), word(description, 'unreached'));
      return;
    }
    for (const name of controls.names) {
      take(name);
    }
    const button = event.submitter as HTMLButtonElement | null;
    if (button?.name.startsWith('_')) {
      void parts?.then((rows) => rows.press(button));
    } else {
      void send(controls, opened, isElsewhere);
    }
  });
  return opened;
}

/** True for a box in which files were chosen that are not on their way. */
function hasFiles(input: HTMLElement): boolean {
  return Boolean((input as HTMLInputElement).files?.length);
}

/** The names of the fields that an edit shows as text. */
function outputsOf(form: HTMLFormElement, description: Description): string[] {
  return [...form.querySelectorAll<HTMLElement>('[data-mode=edit] [data-field]:has(> output)')]
    .map((box) => box.dataset.field!)
    .filter((name) => fieldAt(description.fields, name)?.compute === undefined);
}

/** The page may show some of the fields; those that it lacks are none of its business. */
function present(fields: Field[], names: string[]): Field[] {
  const tops = new Set(names.map((name) => name.split(/[.[]/)[0]));
  return fields.filter((field) => tops.has(field.name) || field.compute !== undefined);
}

async function send(controls: Controls, opened: OpenForm, isElsewhere: boolean): Promise<void> {
  const outcome = await opened.submit();
  if (outcome.kind === 'accepted') {
    const { after } = outcome.record;
    const parts = await more().catch(() => undefined);
    if (parts) {
      parts.proceed(controls, opened, after, isElsewhere, (words) =>
        write(controls.working(), words),
      );
    } else {
      location.assign(after.go);
    }
  } else if (outcome.kind === 'refused') {
    const first = opened.wrong().find((name) => controls.inputs(name).length > 0);
    const target = first ? controls.inputs(first)[0] : controls.summary();
    target?.focus();
  }
}

/** Errors that were in the page when it came, so that they leave when their field is mended. */
function serverErrors(controls: Controls): FieldError[] {
  return controls.names.flatMap((name) => {
    const detail = controls.part(name, '.error')?.textContent?.trim();
    const pointer = `#/${name.replace(/\[(\d+)\]/g, '/$1').replace(/\./g, '/')}`;
    return detail ? [{ pointer, code: '', detail }] : [];
  });
}
