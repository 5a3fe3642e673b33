import { json } from '../access';

export const VERDICTS = ['accepted', 'refused', 'repeated', 'failed', 'trapped'] as const;

/** What somebody sent to a form, and what became of it, as a list tells it. */
export interface Attempt {
  id: string;
  form: string;
  revision: number;
  mode: 'add' | 'edit' | 'check';
  at: string;
  micros: number;
  verdict: (typeof VERDICTS)[number];
  problem?: string;
  errors: { pointer: string; code: string; detail?: string }[];
}

/** One step of the way of a submission. */
export interface Step {
  step: string;
  about?: string;
  micros: number;
}

/** All that is logged of an attempt. */
export interface WholeAttempt extends Attempt {
  record?: string;
  from?: string;
  by?: string;
  door?: string;
  detail?: string;
  values?: Record<string, unknown>;
  leftOut?: number;
  steps?: Step[];
  deliveries: { id: string; outlet: string; state: string }[];
}

export interface AttemptsPage {
  attempts: Attempt[];
  before?: string;
}

export const attempts = (query: URLSearchParams) => json<AttemptsPage>(`/attempts?${query}`);
export const attempt = (id: string) => json<WholeAttempt>(`/attempts/${encodeURIComponent(id)}`);
/** Judges values as an add of today's form. */
export const judgeAgain = (form: string, values: object) =>
  json<{ verdict: string; errors: Attempt['errors'] }>(`/forms/${form}/checks`, 'POST', values);
