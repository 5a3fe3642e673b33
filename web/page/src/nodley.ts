/**
 * The script of a page: every form marked `data-nodley="NAME"` is bound to the form of that name,
 * and every other element so marked becomes the whole of it.
 */
import { bind, type BindOptions } from './bind';
import type { Opened } from './opened';
import { Service } from './service';

/** Where this script came from is where the service is. */
const { origin } = new URL(import.meta.url);

/**
 * Binds a form of the page, or puts the whole of one where an empty element is.
 *
 * @param name the form's
 * @throws Refusal, or what fetch throws, if it cannot; a form still works as plain HTML then
 */
export async function attach(
  place: HTMLElement,
  name: string,
  options: BindOptions = {},
): Promise<Opened> {
  const language = place.closest<HTMLElement>('[lang]')?.lang ?? '';
  const isForm = place instanceof HTMLFormElement;
  const form = isForm ? place : await (await import('./more')).whole(place, name, origin, language);
  const service = new Service(`${origin}/api`, form.lang || language);
  const description = await service.describe(name);
  if (!form.querySelector('[data-summary]')) {
    (await import('./more')).complete(form, description);
  }
  const spoken = description.language ?? 'en';
  const notation = /^en/.test(spoken) ? undefined : (await import('./more')).notation(spoken, form);
  const opened = bind(form, description, service, { notation, ...options });
  form.dataset.bound = 'true';
  return opened;
}

// In Node there is no page, and the rules can be used all the same.
if (typeof document !== 'undefined') {
  for (const place of document.querySelectorAll<HTMLElement>('[data-nodley]')) {
    const name = place.dataset.nodley!;
    attach(place, name).catch((failure: unknown) =>
      console.error(`Nodley: the form "${name}" could not be bound.`, failure),
    );
  }
} else {
  await import('./more');
}

export * from './index';
