import type { MidiMessage, PlayedEvent } from './midi';

/** A recorded performance: events at seconds from its start, in order. */
export interface Take {
  name: string;
  seconds: number;
  events: TakeEvent[];
}
/** What hands do: what controllers send, and macros moved on screen. */
export interface TakeEvent {
  at: number;
  event: PlayedEvent | MovedEvent | ChosenEvent | ZonesEvent;
  to?: number;
}
/** `to`: which of the players beside the patch plays it, from 1; absent: the patch itself. */
/** A program change: in a take of a whole show it goes to a step. */
export type ChosenEvent = Extract<MidiMessage, { type: 'program' }>;
/** The zones of an expressive controller, as it said itself. */
export type ZonesEvent = { type: 'zones'; lower: number; upper: number; bendRange: number };
export type MovedEvent =
  { type: 'macro' | 'strip'; number: number; value: number } | { type: 'xy'; number: number; x: number; y: number };
