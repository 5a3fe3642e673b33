import type { BindOptions } from './bind';
import type { Description, Field } from '../description';
import { numbered } from '../form/merging';
import type { OpenForm } from '../form/open-form';
import type { Refusal, Service } from '../net/service';
import type { fieldAt, put } from '../tree';

/** What a page of one's own is bound with; the record that it edits is fetched. */
export async function edited(
  form: HTMLFormElement,
  { form: name, records }: Description,
  service: Service,
  write: typeof put,
): Promise<BindOptions> {
  const { record } = form.dataset;
  if (record === undefined || form.querySelector('[name=_version]')) {
    return { own: true };
  }
  const kept = await service.record(name, records === 'one' ? '' : record);
  const before = numbered(kept, write);
  // What has no control here stays as it is, and is not sent.
  const shown = new Set(
    [...form.querySelectorAll<HTMLInputElement>('[name]')].map(
      (it) => it.getAttribute('name')!.split(/[.[]/)[0],
    ),
  );
  const values = Object.fromEntries(Object.entries(before).filter(([it]) => shown.has(it)));
  form.dataset.mode = 'edit';
  return {
    own: true,
    mode: 'edit',
    record: kept.id,
    version: kept.version,
    values,
    before,
  };
}

/** Puts in what a page may leave to the form: options, and what the buttons of rows mean. */
export function fillIn(form: HTMLFormElement, { fields }: Description, find: typeof fieldAt): void {
  for (const select of form.querySelectorAll('select')) {
    const field = find(fields, select.name);
    if (field && !select.options.length) {
      offer(select, field);
    }
  }
  for (const output of form.querySelectorAll<HTMLOutputElement>('output[name]')) {
    const name = output.getAttribute('name')!;
    if (find(fields, name) && !output.closest(`[data-field="${name}"]`)) {
      const box = document.createElement('span');
      box.dataset.field = name;
      output.replaceWith(box);
      box.append(output);
    }
  }
  for (const button of form.querySelectorAll<HTMLButtonElement>(
    'button:is([data-add], [data-remove], [data-up])',
  )) {
    const rows = button.closest<HTMLElement>('[data-field]')?.dataset.field ?? '';
    const row = button.closest('[data-row]');
    const place = row
      ? [...row.parentElement!.querySelectorAll(':scope > [data-row]')].indexOf(row)
      : 0;
    const { add, remove } = button.dataset;
    button.type = 'submit';
    button.formNoValidate = true;
    button.name = add !== undefined ? '_more' : remove !== undefined ? '_less' : '_up';
    button.value = add !== undefined ? rows : `${rows}[${place}]`;
  }
}

function offer(select: HTMLSelectElement, field: Field): void {
  if (!select.multiple) {
    select.add(new Option('', ''));
  }
  field.options?.forEach(({ value, label }) => select.add(new Option(label, value)));
}

const SORRY: Record<string, [string, string]> = {
  de: ['Das Formular konnte nicht geladen werden.', 'Auf seiner eigenen Seite öffnen'],
  en: ['The form could not be loaded.', 'Open it on its own page'],
  es: ['No se pudo cargar el formulario.', 'Abrirlo en su propia página'],
};

/** Says why a form could not be bound: to the developer, and where nothing stands, to the person. */
export function unbound(
  place: HTMLElement,
  name: string,
  origin: string,
  failure: Error | Refusal,
): void {
  const reason =
    failure instanceof TypeError
      ? `${origin} was not reached, or the form lets no page of ${location.origin} in: then its form file ` +
        `needs "origins: [${location.origin}]".`
      : failure.message;
  console.error(`Nodley: the form "${name}" could not be bound. ${reason}`, failure);
  if (!place.childElementCount) {
    const language = place.closest<HTMLElement>('[lang]')?.lang.slice(0, 2) ?? 'en';
    const [sorry, open] = SORRY[language] ?? SORRY.en!;
    const text = document.createElement('p');
    const link = document.createElement('a');
    link.href = `${origin}/forms/${encodeURIComponent(name)}/new`;
    link.textContent = open;
    text.setAttribute('role', 'alert');
    text.append(`${sorry} `, link);
    place.append(text);
  }
}

/** Binds what comes into the page later, and closes what leaves it. */
export function watch(bind: (place: HTMLElement) => void): void {
  const opened = new Map<Element, OpenForm>();
  document.addEventListener('nodley:opened', ({ target, detail }: CustomEventInit & Event) => {
    opened.set(target as Element, (detail as { opened: OpenForm }).opened);
  });
  const bindNew = () =>
    document
      .querySelectorAll<HTMLElement>('[data-nodley]:not([data-bound])')
      .forEach((it) => bind(it));
  new MutationObserver((changes) => {
    for (const [form, it] of opened) {
      if (!form.isConnected) {
        opened.delete(form);
        it.close();
      }
    }
    if (changes.some((it) => it.addedNodes.length)) {
      bindNew();
    }
  }).observe(document, { childList: true, subtree: true });
  // What came while this script was being fetched.
  bindNew();
}

/** The names in attributes that the form does not have. */
export function strangeNames(
  form: HTMLFormElement,
  fields: Field[],
  find: typeof fieldAt,
): [attribute: string, name: string][] {
  const wrong: [string, string][] = [];
  for (const attribute of ['data-error', 'data-state', 'data-field', 'data-clear']) {
    for (const element of [form, ...form.querySelectorAll(`[${attribute}]`)]) {
      const names = (element.getAttribute(attribute) ?? '').split(' ').filter(Boolean);
      const words = attribute === 'data-clear' ? ['all', 'none'] : [];
      names
        .filter((it) => !words.includes(it) && !find(fields, it))
        .forEach((it) => wrong.push([attribute, it]));
    }
  }
  return wrong;
}
