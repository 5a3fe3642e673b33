/** What only some pages need; they fetch it when they do. */
export { complete, whole } from './foreign';
export { RowButtons } from './rows';
export { search } from './search';
