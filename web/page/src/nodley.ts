/** The script of a page: every form marked `data-nodley="NAME"` is bound to the form of that name. */
import { bind } from './bind';
import { Service } from './service';

async function begin(form: HTMLFormElement): Promise<void> {
  const name = form.dataset.nodley!;
  const service = new Service('/api', form.lang);
  try {
    bind(form, await service.describe(name), service);
    form.dataset.bound = 'true';
  } catch (failure) {
    // The form still works as plain HTML; a developer should know why it is only that.
    console.error(`Nodley: the form "${name}" could not be bound.`, failure);
  }
}

// In Node there is no page, and the rules can be used all the same.
if (typeof document !== 'undefined') {
  for (const form of document.querySelectorAll<HTMLFormElement>('form[data-nodley]')) {
    void begin(form);
  }
}

export * from './index';
