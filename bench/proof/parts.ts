import { BACK } from './back';
import { DEATH, HANDS, POINTERS, TAKEOVERS } from './browsers';
import { ENGINE } from './engine';
import { IN_STEP, IN_TIME, SHOW } from './long';
import { MESSAGES } from './messages';
import { PARAMETERS } from './parameters';
import type { Part } from './part';
import { FILES } from './readers';
import { TRUTH } from './truth';

/** All that is proved, in the order in which it is tried. */
export const PARTS: readonly Part[] = [
  TRUTH,
  FILES,
  BACK,
  MESSAGES,
  PARAMETERS,
  ENGINE,
  SHOW,
  IN_STEP,
  IN_TIME,
  HANDS,
  POINTERS,
  DEATH,
  TAKEOVERS,
];
