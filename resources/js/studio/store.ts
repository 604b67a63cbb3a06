/** What the studio knows and does, for its views. */
export { viewOf } from '../api/kinds';
export * from './complain';
export * from './edits';
export * from './engine';
export * from './rows';
export * from './state';
