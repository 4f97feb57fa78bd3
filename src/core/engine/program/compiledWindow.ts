import type { WindowRange } from '../../space/window';

/** `fixed`: its gain stays as it is while a note sounds, for its source does. */
export interface CompiledWindow extends WindowRange {
  source: number;
  fixed: boolean;
}

/** Windows that are read once, when a note begins, and those that are followed. */
export interface WindowSet {
  atStrike: CompiledWindow[];
  followed: CompiledWindow[];
}
