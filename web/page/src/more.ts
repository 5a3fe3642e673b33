/** What only some pages need; they fetch it when they do. */
export { UniqueChecks } from './form/unique-checks';
export { changedLines } from './dom/changed-lines';
export { Conflicts } from './form/conflicts';
export { ServerExpressions } from './form/server-expressions';
export { proceed } from './dom/proceed';
export { equip } from './dom/enhance';
export { passOf, renewed } from './net/pass';
export { complete, whole } from './dom/embed';
export { numbered, patch, renumbered } from './form/merging';
export { notation } from './notation';
export { unknownField } from './near';
export { unbound, watch } from './dom/own-page';
export { matchRows } from './form/row-matching';
