/** What only some pages need; they fetch it when they do. */
export { equip } from './equip';
export { complete, whole } from './foreign';
export { differing, merge, patch } from './merging';
export { notation } from './notation';
