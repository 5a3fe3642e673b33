/**
 * The script of a page: every form marked `data-nodley="NAME"` is bound to the form of that name,
 * and every other element so marked becomes the whole of it.
 */
import { bind } from './bind';
import { Service } from './service';

/** Where this script came from is where the service is. */
const { origin } = new URL(import.meta.url);

async function begin(place: HTMLElement): Promise<void> {
  const name = place.dataset.nodley!;
  try {
    const language = place.closest<HTMLElement>('[lang]')?.lang ?? '';
    const isForm = place instanceof HTMLFormElement;
    const form = isForm ? place : await (await import('./more')).whole(place, origin, language);
    const service = new Service(`${origin}/api`, form.lang || language);
    const description = await service.describe(name);
    if (!form.querySelector('[data-summary]')) {
      (await import('./more')).complete(form, description);
    }
    bind(form, description, service);
    form.dataset.bound = 'true';
  } catch (failure) {
    // The form still works as plain HTML; a developer should know why it is only that.
    console.error(`Nodley: the form "${name}" could not be bound.`, failure);
  }
}

// In Node there is no page, and the rules can be used all the same.
if (typeof document !== 'undefined') {
  for (const place of document.querySelectorAll<HTMLElement>('[data-nodley]')) {
    void begin(place);
  }
}

export * from './index';
