/** Nodley's rules for pages and programs; nothing here needs a DOM but `bind`. */
export { bind, type BindOptions } from './bind';
export type { Context, Decided } from './course';
export type * from './description';
export { valuesWithRows } from './extras';
export { open, type From } from './open';
export { judge, type Verdict } from './judge';
export type { Difference } from './merging';
export { Opened } from './opened';
export { Refusal, Service, type Accepted, type Problem } from './service';
export type { Asked, FieldState, FormState, Moment, OpenOptions, Outcome } from './state';
export { display } from './value';
