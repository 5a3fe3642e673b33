import type { Field, Json, Values } from '../description';
import type { patch } from '../form/merging';
import { refusalOf } from '../net/refusal-of';
import type { Problem } from '../net/service';
import type { Page } from './page';
import { Steps, type Keeping } from './steps';

/** So many milliseconds after the last change what was typed is sent to be kept; while a person goes on typing, at most so many after the first. */
const PAUSE = 800;
const LONGEST = 1600;

/** Where the service could not be reached, it is asked again after so many milliseconds. */
const AGAIN = 3000;

/** What a browser keeps while the service cannot be reached. */
interface Stored {
  id: string;
  version: number;
  /** What the draft had when it was last known. */
  base: Values;
  values: Values;
}

interface DraftReply {
  id: string;
  version: number;
  values: Values;
  updatedAt: string;
}

/** A copy without the fields that must not be in it. */
function without(fields: Field[], values: Values, isOut: (field: Field) => boolean): Values {
  return Object.fromEntries(
    Object.entries(values)
      .filter(([name]) => !fields.some((field) => field.name === name && isOut(field)))
      .map(([name, value]): [string, Json] => {
        const inside = fields.find((field) => field.name === name)?.fields;
        return [name, inside ? withoutInside(inside, value, isOut) : value];
      }),
  );
}

function withoutInside(fields: Field[], value: Json, isOut: (field: Field) => boolean): Json {
  if (Array.isArray(value)) {
    return value.map((row: Json) => withoutInside(fields, row, isOut));
  }
  return value && typeof value === 'object' ? without(fields, value as Values, isOut) : value;
}

/** Alike, whatever is blank, in whatever order: what the service keeps comes back a little otherwise. */
const same = (a: Json, b: Json) => JSON.stringify(filled(a)) === JSON.stringify(filled(b));

function filled(value: Json): Json {
  if (Array.isArray(value)) {
    const items = (value as Json[]).map(filled);
    return items.some((it) => it !== null) ? items : null;
  }
  if (value && typeof value === 'object') {
    const members = Object.entries(value as Values)
      .map(([name, it]): [string, Json] => [name, filled(it)])
      .filter(([, it]) => it !== null)
      .sort(([x], [y]) => (x < y ? -1 : 1));
    return members.length ? Object.fromEntries(members) : null;
  }
  return value === '' || value === undefined ? null : value;
}

/** Values with others in their place; of groups, those inside. */
function over(values: Values, others: Values): Values {
  const isSet = (it: Json | undefined) => it && typeof it === 'object' && !Array.isArray(it);
  return {
    ...values,
    ...Object.fromEntries(
      Object.entries(others).map(([name, it]) => [
        name,
        isSet(it) && isSet(values[name]) ? over(values[name] as Values, it as Values) : it,
      ]),
    ),
  };
}

/**
 * Keeps what is typed as a draft, by itself: after a pause, when a field is left, when the page is
 * hidden. While the service cannot be reached, the browser keeps it; both are brought together.
 */
export class Drafts implements Keeping {
  readonly #page: Page;
  readonly #change: typeof patch;
  readonly isOwn: boolean;
  readonly #local: string;
  /** What is kept of it at the service. */
  #base: Values;
  #version: number;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #firstChange = 0;
  #going: Promise<boolean> | undefined;
  /** Something was typed since it was last kept. */
  #isPending = false;
  /** What is said of what another page has changed. */
  #merged = '';
  /** The form is being sent. */
  #isSending = false;
  /** The page is left, and nothing is to be kept any more. */
  #isOver = false;
  readonly steps: Steps | undefined;

  constructor(page: Page, change: typeof patch) {
    this.#page = page;
    this.#change = change;
    const { form, opened, service } = page;
    // A page of the service's own has its draft in its address; any other remembers it.
    this.isOwn =
      Boolean(form.querySelector('[name=_language]')) &&
      new URL(form.action).origin === location.origin &&
      location.pathname === new URL(form.action).pathname;
    this.#local = `nodley-draft ${service!.base}/${form.dataset.nodley} ${form.dataset.record ?? ''}`;
    this.#version = Number(form.dataset.draftVersion);
    this.#base = this.id || form.dataset.record ? this.#toKeep(page.initial) : {};
    service!.draft = this.id;
    opened.subscribe(() => this.#changed());
    form.addEventListener('focusout', () => this.#isPending && this.#soon(0));
    document.addEventListener('visibilitychange', () => document.hidden && this.#leave());
    addEventListener('pagehide', () => this.#leave());
    addEventListener('online', () => this.#isPending && this.#soon(0));
    // The question whether to leave is for what is not kept.
    addEventListener(
      'beforeunload',
      (event) => {
        if (this.#isOver || (this.#isSafe() && !this.#hasSecrets())) {
          event.stopImmediatePropagation();
        }
      },
      { capture: true },
    );
    form.querySelector('[data-keep]')!.remove();
    if (this.id && this.isOwn) {
      // What is blank here is on another page: this one began with the draft.
      form.dataset.draftOpened = '';
    }
    // What is sent takes its draft along; nothing must begin another one meanwhile.
    form.addEventListener('nodley:sending', () => {
      clearTimeout(this.#timer);
      this.#isSending = true;
    });
    for (const moment of ['refused', 'failed']) {
      form.addEventListener(`nodley:${moment}`, () => {
        this.#isSending = false;
        this.#changed();
      });
    }
    form.addEventListener('nodley:accepted', () => this.#finished());
    if (form.dataset.step) {
      this.steps = new Steps(page, this);
    }
    void this.#restore();
  }

  /** The id of the draft; empty as long as there is none. */
  get id(): string {
    return this.#page.form.dataset.draft!;
  }

  /** The address of this page, with its draft and a step. */
  address(step = this.#page.form.dataset.step): string {
    const url = new URL(this.isOwn ? location.href : this.#page.form.action);
    const { searchParams: query } = url;
    for (const [name, value] of Object.entries({ draft: this.id, step })) {
      if (value) {
        query.set(name, value);
      } else {
        query.delete(name);
      }
    }
    return url.href;
  }

  /** Does what a button says, if it is one of drafts or steps. */
  press(button: HTMLButtonElement): void {
    if (button.name === '_discard') {
      void this.#discard();
    } else {
      this.steps?.press(button);
    }
  }

  #toKeep(values: Values): Values {
    return without(this.#page.description.fields, values, (field) => field.type === 'secret');
  }

  #now(): Values {
    return this.#toKeep(this.#page.opened.typed());
  }

  /** A secret was typed, which is kept nowhere. */
  #hasSecrets(): boolean {
    const { fields } = this.#page.opened.state();
    return Object.values(fields).some(({ field, value }) => field.type === 'secret' && value);
  }

  /** Nothing is lost if the page goes now. */
  #isSafe(): boolean {
    return !this.#isPending || this.#store();
  }

  #changed(): void {
    const { opened } = this.#page;
    if (this.#isOver || this.#isSending || !opened.unsaved() || same(this.#now(), this.#base)) {
      return;
    }
    if (!this.#isPending) {
      this.#isPending = true;
      this.#firstChange = Date.now();
    }
    this.#soon(Math.max(0, Math.min(PAUSE, this.#firstChange + LONGEST - Date.now())));
  }

  #soon(milliseconds: number): void {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.keep(), milliseconds);
  }

  /** What a page that is going can still send is sent without waiting for the answer. */
  #leave(): void {
    if (this.#isPending && !this.#isOver && !this.#isSending) {
      void this.keep();
    }
  }

  /**
   * Keeps what is typed now.
   *
   * @param always true to keep it though nothing has changed
   * @param step the step that opens next
   * @returns false if it could not be kept
   */
  async keep(always = false, step = this.#page.form.dataset.step): Promise<boolean> {
    clearTimeout(this.#timer);
    if (this.#going) {
      await this.#going;
    }
    if (this.#isOver || this.#isSending || (!always && !this.#isPending)) {
      return !this.#isOver;
    }
    this.#going = this.#send(step);
    try {
      return await this.#going;
    } finally {
      this.#going = undefined;
    }
  }

  async #send(step = ''): Promise<boolean> {
    const now = this.#now();
    this.#isPending = false;
    try {
      this.#kept(await this.#reply(now, step), now);
      return true;
    } catch (failure) {
      this.#isPending = true;
      const refusal = refusalOf(failure);
      return refusal ? await this.#refused(refusal, step) : this.#unreached();
    }
  }

  async #reply(now: Values, step: string): Promise<DraftReply> {
    const { form, service, description } = this.#page;
    const { record } = form.dataset;
    // A new one has what is blank as well, so that no first value comes back there.
    const changes = this.id || record ? this.#change(this.#base, now) : now;
    if (this.id) {
      const headers = { 'If-Match': `"${this.#version}"` };
      const path = `/drafts/${this.id}?step=${step}`;
      return (await service!.call('PATCH', path, changes, headers, undefined, true)) as DraftReply;
    }
    const version = form.querySelector<HTMLInputElement>('[name=_version]')?.value;
    const of = record ? `&record=${record}&version=${version}` : '';
    const path = `/drafts?form=${description.form}${of}&step=${step}`;
    return (await service!.call('POST', path, changes, {}, undefined, true)) as DraftReply;
  }

  #kept({ id, version, updatedAt }: DraftReply, now: Values): void {
    const { form, service, say } = this.#page;
    this.#base = now;
    this.#version = version;
    form.dataset.draft = id;
    service!.draft = id;
    form.querySelector('[data-discard]')?.removeAttribute('hidden');
    document.querySelector('[data-drafts]')?.remove();
    if (this.isOwn) {
      history.replaceState(history.state, '', this.address());
      localStorage.removeItem(this.#local);
    } else {
      this.#store();
    }
    const time = new Date(updatedAt).toLocaleTimeString(form.lang || undefined, {
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23', // As the service writes it.
    });
    this.#tell('[data-kept]', say('draft.kept', { time }));
    this.#tell('[data-unkept]', this.#merged);
    this.#merged = '';
  }

  #tell(place: string, words: string): void {
    const element = this.#page.form.querySelector(place);
    if (element && element.textContent !== words) {
      element.textContent = words;
    }
  }

  /** Keeps it in the browser, without what must not be there; false if that is not possible. */
  #store(): boolean {
    const { description } = this.#page;
    const safe = (values: Values) =>
      without(description.fields, values, (it) => it.type === 'secret' || Boolean(it.masked));
    const stored: Stored = {
      id: this.id,
      version: this.#version,
      base: safe(this.#base),
      values: safe(this.#now()),
    };
    try {
      localStorage.setItem(this.#local, JSON.stringify(stored));
      return true;
    } catch {
      // There is no room, or the person wants nothing to be kept there.
      return false;
    }
  }

  #unreached(): boolean {
    this.#store();
    this.#tell('[data-kept]', '');
    this.#tell('[data-unkept]', this.#page.say('draft.unkept', {}));
    this.#soon(AGAIN);
    return false;
  }

  async #refused(problem: Problem, step: string): Promise<boolean> {
    if (problem.type === '/problems/outdated') {
      this.#merge(problem.values!, problem.version!);
      return await this.#send(step);
    }
    if (problem.type === '/problems/no-such-draft' && this.id) {
      if (this.#isSending || this.#isOver || !this.#page.opened.unsaved()) {
        return false;
      }
      // It was discarded elsewhere, or its time was over: what is here begins another.
      this.#forget();
      return await this.#send(step);
    }
    this.#store();
    this.#tell(
      '[data-unkept]',
      this.#page.say('draft.full', { reason: problem.detail ?? problem.title }),
    );
    return false;
  }

  /** Takes over what was changed on another page, but for what was changed here too. */
  #merge(kept: Values, version: number): void {
    const { description, form } = this.#page;
    // The draft of an edit has what was changed alone; the rest is as the record has it.
    const theirs = form.dataset.record ? over(this.#base, kept) : kept;
    const now = this.#now();
    const taken = description.fields.filter(
      ({ name }) => !same(theirs[name], this.#base[name]) && same(now[name], this.#base[name]),
    );
    this.#base = theirs;
    this.#version = version;
    if (taken.length) {
      taken.forEach((field) => this.#put(field, field.name, theirs[field.name]));
      const fields = taken.map((field) => field.label).join(', ');
      this.#merged = this.#page.say('draft.merged', { fields });
    }
  }

  /** Puts a value into the form: of a group, each one inside. */
  #put(field: Field, name: string, value: Json): void {
    if (field.type === 'group') {
      const inside = (value ?? {}) as Values;
      field.fields!.forEach((it) => this.#put(it, `${name}.${it.name}`, inside[it.name]));
    } else if (field.compute === undefined) {
      this.#page.opened.set(name, value ?? (field.type === 'rows' ? [] : ''));
    }
  }

  #forget(): void {
    const { form, service } = this.#page;
    form.dataset.draft = '';
    service!.draft = '';
    form.querySelector('[name=_draft]')?.remove();
    form.querySelector('[data-discard]')?.setAttribute('hidden', '');
    localStorage.removeItem(this.#local);
    this.#base = form.dataset.record ? this.#toKeep(this.#page.initial) : {};
    this.#version = 0;
  }

  /** What the browser has kept comes back: it is of this draft, or never got to the service. */
  async #restore(): Promise<void> {
    const text = localStorage.getItem(this.#local);
    if (!text) {
      return;
    }
    const { id, version, base, values } = JSON.parse(text) as Stored;
    const { form, description, service } = this.#page;
    if (id && !this.id) {
      try {
        const draft = (await service!.call('GET', `/drafts/${id}`)) as DraftReply;
        if (this.isOwn) {
          // It is of a draft that this page does not show; what got to the service need not stay here.
          if (draft.version > version) {
            localStorage.removeItem(this.#local);
          }
          return;
        }
        form.dataset.draft = id;
        service!.draft = id;
        this.#version = draft.version;
        description.fields
          .filter(({ name }) => name in draft.values)
          .forEach((field) => this.#put(field, field.name, draft.values[field.name]));
        this.#base = this.#now();
      } catch (failure) {
        if (refusalOf(failure)) {
          localStorage.removeItem(this.#local);
        }
        return;
      }
    } else if (id !== this.id) {
      return;
    } else if (id && version !== this.#version) {
      // The service has more by now; what was typed here and never got there is put on top.
      this.#base = this.#now();
    }
    description.fields
      .filter(({ name }) => name in values && !same(values[name], base[name]))
      .forEach((field) => this.#put(field, field.name, values[field.name]));
  }

  async #discard(): Promise<void> {
    const { form, service } = this.#page;
    this.#isOver = true;
    clearTimeout(this.#timer);
    await this.#going;
    const { id } = this;
    if (id) {
      await service!.call('DELETE', `/drafts/${id}`).catch(() => undefined);
    }
    this.#forget();
    if (this.isOwn) {
      location.assign(form.action);
    } else {
      this.#isOver = false;
      this.#page.opened.clear();
    }
  }

  /** The draft has become a record; what is typed next is another one. */
  #finished(): void {
    clearTimeout(this.#timer);
    this.#isPending = false;
    this.#isSending = false;
    this.#forget();
    this.#tell('[data-kept]', '');
    this.#tell('[data-unkept]', '');
    if (this.isOwn) {
      history.replaceState(history.state, '', this.address());
    }
  }
}
