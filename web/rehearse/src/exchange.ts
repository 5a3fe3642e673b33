import type { Exchange } from './network';
import { say } from './words';

interface Attempt {
  verdict: string;
  at: string;
  micros: number;
  steps: { step: string; about?: string; micros: number }[];
}

/** Asks the service, below `/api`. */
export type Ask = <T>(path: string) => Promise<T>;

export interface FieldError {
  pointer: string;
  code: string;
  params?: { value?: unknown };
}

/** What was answered: a record that is kept now, or errors. */
export interface Answer {
  id?: string;
  version?: number;
  errors?: FieldError[];
}

const LAST = 'nodley-last-exchange';

/** Remembers what was sent last, and what came of it: over the page that follows, too. */
export class Exchanges {
  readonly #secrets = new Set<string>();

  /** The value of such a field is kept nowhere. */
  hide(field: string): void {
    this.#secrets.add(field);
  }

  add(exchange: Exchange): void {
    const sent = exchange.sent && this.#without(exchange.sent);
    sessionStorage.setItem(LAST, JSON.stringify({ ...exchange, sent }));
  }

  #without(sent: string): string {
    return JSON.stringify(JSON.parse(sent), (name, value: unknown) =>
      this.#secrets.has(name) && value ? say('secret') : value,
    );
  }

  /** The last answer; nothing where there was none. */
  last(): Answer {
    const { answer } = JSON.parse(sessionStorage.getItem(LAST) ?? '{}') as Partial<Exchange>;
    try {
      return JSON.parse(answer ?? '{}') as Answer;
    } catch {
      return {};
    }
  }

  /** Its errors. */
  errors(): FieldError[] {
    return this.last().errors ?? [];
  }

  /** The last exchange, line by line; of a submission, also what the service did with it. */
  async told(ask: Ask, form: string): Promise<string[]> {
    const kept = sessionStorage.getItem(LAST);
    if (!kept) {
      return [say('nothing')];
    }
    const last = JSON.parse(kept) as Exchange;
    const lines = [
      `${last.method} ${last.path}`,
      ...(last.sent ? [`${say('sent')}: ${pretty(last.sent)}`] : []),
      last.status
        ? `${say('answered')}: ${last.status}, ${last.millis.toFixed(0)} ms`
        : say('no-answer'),
      ...(last.answer ? [pretty(last.answer)] : []),
    ];
    if (last.path.includes('/checks') || !last.attempt) {
      return lines;
    }
    const attempt = await ask<Attempt>(`/attempts/${last.attempt}?form=${form}`);
    return [
      ...lines,
      `${say('in-the-service')}: ${attempt.verdict}, ${(attempt.micros / 1_000).toFixed(1)} ms`,
      ...attempt.steps.map(
        ({ step, about, micros }) =>
          `  ${step}${about ? ` (${about})` : ''}: ${(micros / 1_000).toFixed(2)} ms`,
      ),
    ];
  }
}

function pretty(text: string): string {
  try {
    return JSON.stringify(JSON.parse(text), null, 2);
  } catch {
    return text;
  }
}
