/** The pages, loaded when one is written. */
export { comparisonPage } from './comparison.ts';
export { historyPage } from './history.ts';
export { resultPage } from './result.ts';
export { routePage } from './route.ts';
