import type { Problem, Refusal } from './service';

/** What the service refused something with; nothing if it could not be reached. */
export function refusalOf(failure: unknown): Problem | undefined {
  return (failure as Partial<Refusal>).problem;
}
