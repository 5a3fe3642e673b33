/**
 * The script of a page: every form marked `data-nodley="NAME"` is bound to the form of that name,
 * and every other element so marked becomes the whole of it.
 */
import { bind, type BindOptions } from './dom/bind';
import type { OpenForm } from './form/open-form';
import { Service } from './net/service';
import { fieldAt, put } from './tree';
import { unshadowed } from './dom/unshadowed';
import { more } from './extras';

/** Where this script came from is where the service is. */
const { origin } = new URL(import.meta.url);

/**
 * Binds a form of the page, or puts the whole of one where an empty element is.
 *
 * @param name the form's; left out, what its attribute `data-nodley` says
 * @throws Refusal, or what fetch throws, if it cannot; a form still works as plain HTML then
 */
export async function attach(
  element: HTMLElement,
  name = unshadowed(element).dataset.nodley!,
  options: BindOptions = {},
): Promise<OpenForm> {
  const plain = unshadowed(element);
  const { dataset } = plain;
  dataset.bound = 'false';
  const token = 'pass' in dataset ? (await more()).passOf(plain) : undefined;
  const language = plain.closest<HTMLElement>('[lang]')?.lang ?? '';
  const place =
    element instanceof HTMLFormElement
      ? element
      : await (await more()).whole(element, name, origin, language, token);
  const form = unshadowed(place);
  const service = new Service(`${origin}/api`, form.lang || language, token);
  const description = await service.describe(name);
  const own = form.querySelector('[name=_language]')
    ? {}
    : await (await more()).complete(form, description, service, { fieldAt, put });
  const spoken = description.language ?? 'en';
  const notation = /^en/.test(spoken) ? undefined : (await more()).notation(spoken, form);
  const opened = bind(place, description, service, { notation, ...own, ...options });
  form.dataset.bound = 'true';
  return opened;
}

function attachAt(place: HTMLElement): void {
  attach(place).catch((failure: Error) =>
    more().then(
      (it) => it.unbound(place, unshadowed(place).dataset.nodley!, origin, failure),
      () => console.error('Nodley:', failure),
    ),
  );
}

// In Node there is no page, and the rules can be used all the same.
if (typeof document !== 'undefined') {
  const places = document.querySelectorAll<HTMLElement>('[data-nodley]');
  // The service's own pages have all that they need.
  if (!document.querySelector('[data-nodley] [name=_language]')) {
    more().then(
      (it) => it.watch(attachAt),
      () => undefined,
    );
  }
  places.forEach(attachAt);
} else {
  // Alone, without the file beside it, most of it works all the same.
  more().catch(() => undefined);
}

export * from './index';
