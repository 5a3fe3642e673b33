/** What only some pages need; they fetch it when they do. */
import { extras } from './extras';
import { near } from './near';
import { matchRows } from './row-matching';

Object.assign(extras, { matchRows, near });

export { equip } from './equip';
export { complete, whole } from './foreign';
export { differing, merge, numbered, patch } from './merging';
export { notation } from './notation';
