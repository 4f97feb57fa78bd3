import type { PlayedEvent } from './midi';

/** A recorded performance: events at seconds from its start, in order. */
export interface Take { name: string; seconds: number; events: TakeEvent[] }
/** What hands do: what controllers send, and macros moved on screen. */
export interface TakeEvent { at: number; event: PlayedEvent | { type: 'macro'; number: number; value: number } }
