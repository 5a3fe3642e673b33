/** Nodley's rules for pages and programs; nothing here needs a DOM but `bind`. */
export { bind, type BindOptions } from './dom/bind';
export type { Context, Decided } from './rules/stage-context';
export type * from './description';
export { valuesWithRows } from './extras';
export { open, type From } from './form/open';
export { judge, type Verdict } from './rules/verdict';
export type { Difference } from './form/merging';
export { OpenForm } from './form/open-form';
export { Refusal, Service, type Accepted, type Problem } from './net/service';
export type { Asked, FieldState, FormState, Moment, OpenOptions, Outcome } from './form/state';
export { display } from './rules/value';
