import { small } from './storage/small';

const TRIED = 'wavicle-tried';

/** The patch by which Wavicle is met. */
export const FIRST_PATCH = 'perigee';
/** Whether this browser has had the things to try that a newcomer is offered. */
export const hasTried = (): boolean => small.get(TRIED) !== null;
export const neverAgain = (): void => void small.set(TRIED, 'done');
