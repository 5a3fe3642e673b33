import type { BindOptions } from './bind';
import type { Description } from '../description';
import { edited, fillIn, strangeNames } from './own-page';
import type { Service, Token } from '../net/service';
import { rehearsal } from './rehearsal';
import type { fieldAt, put } from '../tree';

/** Attributes that hold ids. */
const IDS = ['id', 'for', 'list', 'form', 'aria-describedby', 'aria-labelledby', 'aria-controls'];

let count = 0;

/**
 * Fetches a form's page and puts the form of it where a page of the developer's has an empty
 * element. Its ids become its own, so that the same form can stand there twice.
 */
export async function whole(
  place: HTMLElement,
  name: string,
  origin: string,
  language: string,
  token?: Token,
): Promise<HTMLFormElement> {
  await rehearsal(origin, name);
  const { record } = place.dataset;
  const path = record === undefined ? 'new' : `${record && `${record}/`}edit`;
  const query = language && `?lang=${language}`;
  const response = await fetch(`${origin}/forms/${name}/${path}${query}`, {
    headers: {
      Accept: 'text/html',
      ...(token && {
        Authorization: `Bearer ${typeof token === 'string' ? token : await token()}`,
      }),
    },
  });
  const page = new DOMParser().parseFromString(await response.text(), 'text/html');
  const form = page.querySelector<HTMLFormElement>('form.nodley[data-nodley]');
  if (!response.ok || !form) {
    const problem = await fetch(`${origin}/api/forms/${name}`)
      .then((reply) => reply.json() as Promise<{ detail?: string }>)
      .catch(() => undefined);
    throw new Error(problem?.detail ?? `${response.url} answered ${response.status}, and no form.`);
  }
  const prefix = `n${++count}-`;
  for (const element of [form, ...form.querySelectorAll('*')]) {
    for (const attribute of IDS) {
      const value = element.getAttribute(attribute);
      if (value) {
        element.setAttribute(attribute, value.replace(/\S+/g, `${prefix}$&`));
      }
    }
  }
  form.action = `${origin}${form.getAttribute('action')}`;
  for (const link of form.querySelectorAll<HTMLAnchorElement>('a[href^="/"]')) {
    link.href = `${origin}${link.getAttribute('href')}`;
  }
  form.removeAttribute('autofocus');
  form.lang = page.documentElement.lang;
  Object.assign(form.dataset, place.dataset);
  place.removeAttribute('data-nodley');
  place.append(document.adoptNode(form));
  return form;
}

/**
 * What a developer's own form lacks: places for errors, and for the summary above them all, options
 * and first values; it gives what the form is to be bound with.
 */
export async function complete(
  form: HTMLFormElement,
  description: Description,
  service: Service,
  tree: { fieldAt: typeof fieldAt; put: typeof put },
): Promise<BindOptions> {
  await rehearsal(service.base.replace(/\/api$/, ''), description.form);
  form.noValidate = true;
  fillIn(form, description, tree.fieldAt);
  completeSummary(form);
  if (!form.querySelector('[data-working]')) {
    const working = document.createElement('p');
    working.className = 'working';
    working.dataset.working = '';
    working.setAttribute('role', 'status');
    form.append(working);
  }
  const named = new Map<string, HTMLElement[]>();
  for (const input of form.querySelectorAll<HTMLInputElement>('input, select, textarea')) {
    if (input.name && !/hidden|submit|button|image|reset/.test(input.type)) {
      named.set(input.name, [...(named.get(input.name) ?? []), input]);
    }
  }
  for (const [name, inputs] of named) {
    if (tree.fieldAt(description.fields, name)) {
      place(form, name, inputs);
    }
  }
  warn(form, description, [...named.keys()], tree.fieldAt);
  return edited(form, description, service, tree.put);
}

/** The strip of what is to mend: the developer's own, `data-summary`, or one at the button. */
function completeSummary(form: HTMLFormElement): void {
  let summary = form.querySelector<HTMLElement>('[data-summary]');
  if (!summary) {
    summary = document.createElement('div');
    summary.className = 'summary';
    summary.dataset.summary = '';
    // It is where the person is who has pressed the button.
    const button = form.querySelector('button:not([type=button], [name^=_]), [type=submit]');
    const last = [...form.children].find((it) => it.contains(button));
    form.insertBefore(summary, last ?? null);
  }
  for (const part of ['h2', 'ul']) {
    if (!summary.querySelector(part)) {
      summary.append(document.createElement(part));
    }
  }
  const heading = summary.querySelector('h2')!;
  heading.id ||= `n${++count}-summary`;
  summary.tabIndex = -1;
  summary.hidden = true;
  summary.setAttribute('role', 'group');
  summary.setAttribute('aria-labelledby', heading.id);
}

/** An error's place: the developer's own, `data-error="name"`, or one behind the control. */
function place(form: HTMLFormElement, name: string, inputs: HTMLElement[]): void {
  const last = inputs[inputs.length - 1]!;
  for (const kind of ['error', 'state'] as const) {
    let element = form.querySelector<HTMLElement>(
      `[data-${kind}="${name}"], [data-field="${name}"] > .${kind}`,
    );
    if (!element) {
      element = document.createElement('span');
      element.style.display = 'block';
      element.className = `${kind} ${form.dataset[`${kind}Class`] ?? ''}`.trim();
      element.dataset[kind] = name;
      // What comes once the person is elsewhere is heard all the same.
      element.setAttribute('aria-live', 'polite');
      (last.closest('label') ?? last).after(element);
    }
    element.id ||= `n${++count}-${kind}`;
    for (const input of inputs) {
      input.id ||= `n${++count}`;
      const described = input.getAttribute('aria-describedby') ?? '';
      if (!described.split(' ').includes(element.id)) {
        input.setAttribute('aria-describedby', `${described} ${element.id}`.trim());
      }
    }
  }
}

/** What a developer should know of a page at once: it would not do what it seems to. */
function warn(
  form: HTMLFormElement,
  description: Description,
  names: string[],
  find: typeof fieldAt,
): void {
  const known = description.fields.map((field) => field.name);
  const tell = (text: string) => console.error(`Nodley: form "${description.form}": ${text}`);
  for (const name of names) {
    if (!name.startsWith('_') && !find(description.fields, name)) {
      tell(
        `the page has a control "${name}", and the form no such field. It has: ${known.join(', ')}.`,
      );
    }
  }
  for (const [attribute, name] of strangeNames(form, description.fields, find)) {
    tell(
      `${attribute} names "${name}", and the form has no such field. It has: ${known.join(', ')}.`,
    );
  }
  const tops = names.map((name) => name.split(/[.[]/)[0]);
  for (const field of description.fields) {
    const given = field.compute ?? field.default ?? field.defaultTo;
    const adds = form.dataset.record === undefined;
    if (adds && field.required === true && given === undefined && !tops.includes(field.name)) {
      tell(`"${field.name}" must be filled in, and the page has no control for it.`);
    }
  }
  if (form.enctype === 'text/plain') {
    tell('enctype="text/plain" cannot be read; leave it out.');
  }
  if (form.getAttribute('method')?.toLowerCase() !== 'post') {
    tell('without script it is sent by GET, into the address; say method="post".');
  }
}
