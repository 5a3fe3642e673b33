/** What only some pages need; they fetch it when they do. */
export { Asking } from './asking';
export { changedLines } from './changed-lines';
export { Conflicts } from './conflicts';
export { Consulting } from './consulting';
export { equip } from './equip';
export { follow } from './follow';
export { complete, whole } from './foreign';
export { numbered, patch, renumbered } from './merging';
export { notation } from './notation';
export { unknownField } from './near';
export { unbound, watch } from './own';
export { matchRows } from './row-matching';
