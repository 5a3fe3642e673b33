import type { Submission, Decided } from '../rules/submission';
import type { Description, FieldError } from '../description';
import type { Service } from '../net/service';
import type { FieldState } from '../rules/field-states';

/** After the last change the service is asked once so many milliseconds are over. */
const PAUSE = 200;

/** What the service decided of fields, and the rules over several fields that it found broken. */
export interface Counsel {
  decided: Record<string, Decided>;
  errors: FieldError[];
}

/**
 * Has the service evaluate expressions that a page cannot: those that read through a record, or `caller`. One request, 200 ms
 * after the last change of a value that they read; a change aborts the request before it. A failed request is not repeated
 * until such a value changes.
 */
export class ServerExpressions {
  #asked = '[]';
  #timer: ReturnType<typeof setTimeout> | undefined;
  #question: AbortController | undefined;

  constructor(
    private readonly description: Description,
    private readonly service: Service,
    private readonly record: string | undefined,
    /** Is told when a question is under way, and its outcome; nothing if there was none. */
    private readonly heard: (open: FieldState[], counsel: Counsel | 'asking' | undefined) => void,
  ) {}

  follow(course: Submission): void {
    const open = course.slots.filter((slot) => slot.open.size > 0);
    const key = JSON.stringify(open.map((slot) => [slot.name, ...slot.open]));
    if (key === this.#asked) {
      return;
    }
    this.#asked = key;
    this.#question?.abort();
    clearTimeout(this.#timer);
    if (open.length === 0) {
      this.heard([], undefined);
      return;
    }
    const question = new AbortController();
    this.#question = question;
    this.heard(open, 'asking');
    this.#timer = setTimeout(() => void this.#ask(course, open, question), PAUSE);
  }

  /** Nobody listens any more. */
  close(): void {
    this.#question?.abort();
    clearTimeout(this.#timer);
  }

  async #ask(course: Submission, open: FieldState[], question: AbortController): Promise<void> {
    let counsel: Counsel | undefined;
    try {
      const reply = await this.service.check(
        this.description.form,
        [...new Set(open.map((slot) => slot.path))].join(','),
        course.values(true),
        this.record,
        question.signal,
      );
      const decided = { ...reply.decided };
      for (const slot of open.filter((it) => it.open.has('compute') || it.open.has('default'))) {
        const value = slot.pointer
          .slice(2)
          .split('/')
          .reduce<unknown>((it, step) => (it as Record<string, unknown>)?.[step], reply.values);
        decided[slot.pointer] = { ...decided[slot.pointer], value: value as Decided['value'] };
      }
      counsel = { decided, errors: reply.errors.filter((error) => error.code === 'rule') };
    } catch {
      counsel = undefined;
    }
    if (this.#question === question && !question.signal.aborted) {
      this.heard(open, counsel);
    }
  }
}
