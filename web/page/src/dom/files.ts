import type { Json } from '../description';
import type { Page } from './page';
import { NotTaken, upload, type Uploaded } from '../net/upload';

const UNITS = ['bytes', 'KiB', 'MiB', 'GiB', 'TiB'];
const PICTURES = /^image\/(jpeg|png|gif|webp)$/;

/** A number of bytes as people read it; the service writes it likewise. */
export function size(bytes: number): string {
  let unit = 0;
  let rest = bytes;
  for (; rest >= 1024 && unit < UNITS.length - 1; unit++) {
    rest /= 1024;
  }
  return `${Math.round(rest * 10) / 10} ${UNITS[unit]!}`;
}

const make = <K extends keyof HTMLElementTagNameMap>(
  tag: K,
  members: Partial<HTMLElementTagNameMap[K]> = {},
  ...inside: (Node | string)[]
): HTMLElementTagNameMap[K] => {
  const element = Object.assign(document.createElement(tag), members);
  element.append(...inside);
  return element;
};

/** The files that a value names. */
const refs = (value: Json): string[] =>
  (Array.isArray(value) ? (value as string[]) : value ? [value as string] : []).filter(
    (it) => typeof it === 'string',
  );

/** What a list shows of a file. */
interface Shown {
  name: string;
  /** How large it is, as people read it. */
  bytes: string;
  /** Where it is, if this page may show it. */
  href?: string | undefined;
  picture?: string | undefined;
}

/**
 * The files of a page: chosen or dropped, each goes up at once, and its name in the list of its
 * field stands for it. The lists follow the values of the form, wherever these come from.
 */
export class Files {
  readonly #page: Page;
  /** What the files are called that values refer to. */
  readonly #names: Map<string, string>;
  /** What the list shows of each file, by the value that stands for it. */
  readonly #known = new Map<string, Shown>();
  readonly #equipped = new WeakSet<HTMLInputElement>();
  readonly #places = new WeakMap<HTMLInputElement, HTMLElement>();
  /** How many files go up now, and who waits until none does. */
  #going = 0;
  #waiting: (() => void)[] = [];

  constructor(page: Page, names: Map<string, string>) {
    this.#page = page;
    this.#names = names;
    const { form, opened } = page;
    for (const box of form.querySelectorAll<HTMLInputElement>('.files input[type=checkbox]')) {
      this.#keep(box);
    }
    form.querySelectorAll<HTMLElement>('.files [data-plain]').forEach((it) => it.remove());
    opened.subscribe(() => this.#follow());
    this.#follow();
    // Before the form is sent, which is heard further in.
    form.getRootNode().addEventListener('submit', (event) => this.#hold(event), true);
    addEventListener('beforeunload', (event) => {
      if (this.#going) {
        event.preventDefault();
      }
    });
  }

  /** A file that came with the page. */
  #keep(box: HTMLInputElement): void {
    const item = box.closest('li')!;
    const { href, textContent: name } = item.querySelector('a')!;
    const bytes = item.querySelector('.unit')!.textContent;
    this.#know(box.value, { name, bytes, href, picture: item.querySelector('img')?.src });
    item.remove();
  }

  #know(value: string, file: Shown): void {
    this.#names.set(value, file.name);
    this.#known.set(value, file);
  }

  /** The line of a file in a list; the same content may be a file of two fields. */
  #item(value: string, field: string): HTMLLIElement {
    const unknown: Shown = { name: this.#names.get(value) ?? value, bytes: '' };
    const { name, bytes, href, picture } = this.#known.get(value) ?? unknown;
    const item = make('li');
    item.dataset.file = value;
    if (picture) {
      item.append(make('img', { src: picture, alt: '', width: 64, height: 64 }));
    }
    const label = this.#page.say('file.remove', { name });
    const button = make('button', { type: 'button', className: 'quiet', title: label }, '✕');
    button.ariaLabel = label;
    button.onclick = () => this.#remove(field, value, name);
    item.append(
      make('input', { type: 'checkbox', name: field, value, checked: true, hidden: true }),
      href ? make('a', { href }, name) : make('span', {}, name),
      ' ',
      make('span', { className: 'unit' }, bytes),
      ' ',
      button,
    );
    return item;
  }

  #inputs(): HTMLInputElement[] {
    return [...this.#page.form.querySelectorAll<HTMLInputElement>('input[type=file][name]')];
  }

  /** What is around a box for files: on a page of a developer's own, its label or itself. */
  #box(input: HTMLInputElement): HTMLElement {
    return input.closest<HTMLElement>('[data-field]') ?? input.closest('label') ?? input;
  }

  /** Where the list is; a page of a developer's own has none until now. */
  #place(input: HTMLInputElement): HTMLElement {
    const box = this.#box(input);
    const place =
      this.#places.get(input) ??
      box.querySelector<HTMLElement>('.files') ??
      make('div', { className: 'files' });
    if (!place.isConnected) {
      (input.closest('label') ?? input).before(place);
    }
    this.#places.set(input, place);
    return place;
  }

  /** Brings each list to what its field's value says; rows may have come, gone or moved. */
  #follow(): void {
    const { opened, controls } = this.#page;
    let changed = false;
    for (const input of this.#inputs()) {
      this.#equip(input);
      const place = this.#place(input);
      const list = place.querySelector('ul') ?? place.appendChild(make('ul'));
      const there = [...list.querySelectorAll<HTMLElement>('li[data-file]')];
      const wanted = refs(opened.field(input.name).value);
      if (there.map((it) => it.dataset.file).join() !== wanted.join()) {
        there.forEach((it) => it.remove());
        list.prepend(...wanted.map((value) => this.#item(value, input.name)));
        changed = true;
      }
      list.hidden = !list.children.length;
    }
    if (changed) {
      controls.find();
    }
  }

  #equip(input: HTMLInputElement): void {
    if (this.#equipped.has(input)) {
      return;
    }
    this.#equipped.add(input);
    const take = () => {
      const chosen = [...(input.files ?? [])];
      input.value = '';
      this.#sendAll(input, chosen);
    };
    input.addEventListener('change', take);
    // Somebody may have chosen before this was here; the list is there once this has returned.
    queueMicrotask(take);
    const box = this.#box(input);
    // A copied row has the files of the row that it was copied from.
    box.querySelectorAll('.files li:not([data-file])').forEach((it) => it.remove());
    box.querySelector<HTMLElement>('[data-drop]')?.removeAttribute('hidden');
    const over = (is: boolean) => (event: DragEvent) => {
      if (event.dataTransfer?.types.includes('Files')) {
        event.preventDefault();
        box.classList.toggle('over', is);
      }
    };
    box.addEventListener('dragover', over(true));
    box.addEventListener('dragleave', over(false));
    box.addEventListener('drop', (event) => {
      over(false)(event);
      const dropped = [...(event.dataTransfer?.files ?? [])];
      this.#sendAll(input, dropped.slice(0, input.multiple ? dropped.length : 1));
    });
  }

  #value(name: string): string[] {
    return refs(this.#page.opened.field(name).value);
  }

  #set(input: HTMLInputElement, values: string[]): void {
    const { opened } = this.#page;
    opened.set(input.name, input.multiple ? values : (values.at(-1) ?? ''));
    opened.leave(input.name);
  }

  /** All are shown at once, and go up one after the other, in the order in which they were chosen. */
  #sendAll(input: HTMLInputElement, files: File[]): void {
    void files.reduce((before, file) => this.#send(input, file, before), Promise.resolve());
  }

  async #send(input: HTMLInputElement, file: File, before: Promise<void>): Promise<void> {
    const { service, description, say } = this.#page;
    const list = this.#place(input).querySelector('ul')!;
    const bar = make('progress', { max: Math.max(1, file.size), value: 0 });
    const words = make('span', { className: 'unit' });
    const stop = new AbortController();
    const label = say('file.stop', { name: file.name });
    const button = make('button', { type: 'button', className: 'quiet', title: label }, '✕');
    button.ariaLabel = label;
    button.onclick = () => stop.abort();
    bar.ariaLabel = file.name;
    const item = make('li', { className: 'going' }, words, ' ', bar, ' ', button);
    list.append(item);
    (list as HTMLElement).hidden = false;
    const tell = (sent: number) => {
      const percent = `${Math.floor((100 * sent) / Math.max(1, file.size))} %`;
      bar.value = sent;
      words.textContent = say('file.sending', { name: file.name, percent, size: size(file.size) });
    };
    tell(0);
    this.#going++;
    const field = input.name.replace(/\[\d+\]/g, '');
    try {
      await before;
      stop.signal.throwIfAborted();
      const done = await upload(
        service!,
        file,
        { form: description.form, field },
        {
          sent: tell,
          waiting: () => (words.textContent = say('file.waiting', { name: file.name })),
        },
        stop.signal,
      );
      item.remove();
      this.#done(input, done);
    } catch (failure) {
      this.#failed(input, item, file.name, failure);
    } finally {
      this.#going--;
      if (!this.#going) {
        this.#waiting.splice(0).forEach((go) => go());
      }
    }
  }

  #done(input: HTMLInputElement, { value, name, type, size: bytes, id }: Uploaded): void {
    const { service, say } = this.#page;
    const at = `${service!.base}/uploads/${id}/file`;
    // A page of another site cannot show it: what it shows is asked for without a token.
    const own = new URL(at, location.href).origin === location.origin;
    this.#know(value, {
      name,
      bytes: size(bytes),
      href: own ? at : undefined,
      picture: own && PICTURES.test(type) ? `${at}?thumbnail` : undefined,
    });
    this.#set(input, [...this.#value(input.name), value]);
    this.#tell(input, say('file.done', { name, size: size(bytes) }));
  }

  #failed(input: HTMLInputElement, item: HTMLElement, name: string, failure: unknown): void {
    const { say } = this.#page;
    if (failure instanceof NotTaken) {
      item.className = 'failed';
      item.replaceChildren(
        make('span', { className: 'error' }, say('file.failed', { name, reason: failure.message })),
      );
      this.#tell(input, item.textContent);
      // It stays to be read until something else is chosen.
      input.addEventListener('change', () => item.remove(), { once: true });
    } else {
      item.remove();
      this.#tell(input, say('file.removed', { name }));
    }
    input.focus();
  }

  #remove(field: string, value: string, name: string): void {
    const { form, say } = this.#page;
    const input = this.#inputs().find((it) => it.name === field)!;
    // Until the form is sent, what a record has stays there; what was just sent goes.
    this.#set(
      input,
      this.#value(input.name).filter((it) => it !== value),
    );
    this.#tell(input, say('file.removed', { name }));
    (form.contains(input) ? input : form).focus();
  }

  #tell(input: HTMLInputElement, words: string): void {
    const state = this.#box(input).querySelector(':scope > .state');
    if (state) {
      state.textContent = words;
    }
  }

  /** A form is sent once its files are there. */
  #hold(event: Event): void {
    const { form } = this.#page;
    const isOurs = this.#inputs().some((it) => (event.target as Element).contains(it));
    if (!isOurs || !this.#going) {
      return;
    }
    event.preventDefault();
    event.stopImmediatePropagation();
    const { submitter } = event as SubmitEvent;
    this.#waiting.push(() => form.requestSubmit(submitter));
  }
}
