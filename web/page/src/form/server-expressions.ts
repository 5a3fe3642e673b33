import type { Decided } from '../rules/stage-context';
import type { Description, FieldError, Values } from '../description';
import type { Service } from '../net/service';
import type { FieldState } from '../rules/field-states';

/** After the last change the service is asked once so many milliseconds are over. */
const PAUSE = 200;

/** What the service decided of fields, and the rules over several fields that it found broken. */
export interface ServerResults {
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
    private readonly onResults: (
      open: FieldState[],
      results: ServerResults | 'asking' | undefined,
    ) => void,
  ) {}

  /**
   * Asks, if the values that open expressions read are others than those that were asked about.
   *
   * @param states of all fields, as they have just been evaluated
   * @param values of the form, as they are sent
   */
  follow(states: FieldState[], values: () => Values): void {
    const open = states.filter((state) => state.open.size > 0);
    const key = JSON.stringify(open.map((state) => [state.name, ...state.open]));
    if (key === this.#asked) {
      return;
    }
    this.#asked = key;
    this.#question?.abort();
    clearTimeout(this.#timer);
    if (open.length === 0) {
      this.onResults([], undefined);
      return;
    }
    const question = new AbortController();
    this.#question = question;
    this.onResults(open, 'asking');
    this.#timer = setTimeout(() => void this.#ask(values(), open, question), PAUSE);
  }

  /** Nobody listens any more. */
  close(): void {
    this.#question?.abort();
    clearTimeout(this.#timer);
  }

  async #ask(values: Values, open: FieldState[], question: AbortController): Promise<void> {
    let results: ServerResults | undefined;
    try {
      const reply = await this.service.check(
        this.description.form,
        [...new Set(open.map((state) => state.path))].join(','),
        values,
        this.record,
        question.signal,
      );
      const decided = { ...reply.decided };
      for (const state of open.filter((it) => it.open.has('compute') || it.open.has('default'))) {
        const value = state.pointer
          .slice(2)
          .split('/')
          .reduce<unknown>((it, step) => (it as Record<string, unknown>)?.[step], reply.values);
        decided[state.pointer] = {
          ...decided[state.pointer],
          value: value as Decided['value'],
        };
      }
      results = { decided, errors: reply.errors.filter((error) => error.code === 'rule') };
    } catch {
      results = undefined;
    }
    if (this.#question === question && !question.signal.aborted) {
      this.onResults(open, results);
    }
  }
}
