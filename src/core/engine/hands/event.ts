import { MOST_STRIPS } from '../../space/source';

/**
 * What reaches the engine: decoded MIDI, and what the interface moves by itself. Channels 1…16; ports 1…4 are those
 * that the rig tells apart, 0 or none is any other.
 */
export type EngineEvent =
  | { type: 'noteOn'; port?: number; channel: number; key: number; velocity: number }
  | { type: 'noteOff'; port?: number; channel: number; key: number; velocity: number }
  | { type: 'keyPressure'; port?: number; channel: number; key: number; pressure: number }
  | { type: 'controller'; port?: number; channel: number; controller: number; value: number }
  | { type: 'channelPressure'; port?: number; channel: number; pressure: number }
  /** 0…127: picks a sound of the lists of layers that hear it. */
  | { type: 'program'; port?: number; channel: number; program: number }
  /** −1…1. */
  | { type: 'bend'; port?: number; channel: number; bend: number }
  | { type: 'macro'; number: number; value: number }
  /** A strip that a take moves, 0…1. */
  | { type: 'strip'; number: number; value: number }
  /** The dot of an XY pad, 0…1; `letGo`: the hand has left it. */
  | { type: 'xy'; number: number; x: number; y: number; letGo?: boolean }
  /** A macro, or a dot, goes back to where the patch rests it. */
  | { type: 'rest'; kind: 'macro' | 'xy'; number: number }
  /** The transport goes to a position in quarters. */
  | { type: 'position'; quarters: number }
  /** Quarters a minute that hold instead of the patch's own; null: its own again. */
  | { type: 'tempo'; tempo: number | null }
  /**
   * The zones of an expressive controller at a port: member channels of the lower and the upper one, semitones of a
   * finger's bend.
   */
  | { type: 'zones'; port?: number; lower: number; upper: number; bendRange: number }
  /**
   * The notes whose keys are down begin again in one layer, for it has another sound; `goesOn`: without a new strike,
   * where they stand.
   */
  | { type: 'restrike'; layerId: string; goesOn?: boolean }
  /** Only these layers are heard; an empty list means all. Ids of layers. */
  | { type: 'solo'; layerIds: readonly string[] }
  /**
   * Effects, connections, whole places or everything (`*`) are left out, with a gain in dB that makes up for it; none:
   * all is as it is.
   */
  | { type: 'without'; ids: readonly string[]; gainDb: number }
  /**
   * One thing of the mix is heard alone: what goes along a connection, what comes out of a place, what an effect
   * changes; null: everything.
   */
  | { type: 'listen'; to: { kind: 'connection' | 'place' | 'change'; id: string } | null }
  /** So many voices at the most, for now: those that are missed least end; null: as many as there are. */
  | { type: 'voices'; most: number | null }
  /** Layers that play by themselves begin again, where silence ended them. */
  | { type: 'stand' }
  /** Silence, at once but without a click; pedals and bend go back to rest. */
  | { type: 'panic' };

const within = (x: number, low: number, high: number): boolean => x >= low && x <= high;
const isWhole = (x: number, low: number, high: number): boolean => Number.isInteger(x) && within(x, low, high);

/** Whether an event means something; what comes from outside may hold anything. */
export function isMeaningful(event: EngineEvent): boolean {
  if ('port' in event && event.port !== undefined && !isWhole(event.port, 0, 4)) return false;
  switch (event.type) {
    case 'noteOn':
      return isWhole(event.channel, 1, 16) && isWhole(event.key, 0, 127) && isWhole(event.velocity, 1, 127);
    case 'noteOff':
      return isWhole(event.channel, 1, 16) && isWhole(event.key, 0, 127);
    case 'keyPressure':
      return isWhole(event.channel, 1, 16) && isWhole(event.key, 0, 127) && within(event.pressure, 0, 127);
    case 'controller':
      return isWhole(event.channel, 1, 16) && isWhole(event.controller, 0, 127) && within(event.value, 0, 127);
    case 'channelPressure':
      return isWhole(event.channel, 1, 16) && within(event.pressure, 0, 127);
    case 'program':
      return isWhole(event.channel, 1, 16) && isWhole(event.program, 0, 127);
    case 'bend':
      return isWhole(event.channel, 1, 16) && within(event.bend, -1, 1);
    case 'strip':
      return isWhole(event.number, 1, MOST_STRIPS) && within(event.value, 0, 1);
    case 'macro':
      return isWhole(event.number, 1, 16) && within(event.value, 0, 1);
    case 'xy':
      return isWhole(event.number, 1, 4) && within(event.x, 0, 1) && within(event.y, 0, 1);
    case 'rest':
      return event.kind === 'macro' ? isWhole(event.number, 1, 16) : event.kind === 'xy' && isWhole(event.number, 1, 4);
    case 'position':
      return within(event.quarters, 0, 1e9);
    case 'tempo':
      return event.tempo === null || within(event.tempo, 10, 500);
    case 'zones':
      return isWhole(event.lower, 0, 15) && isWhole(event.upper, 0, 15) && within(event.bendRange, 0, 96);
    case 'solo':
      return Array.isArray(event.layerIds);
    case 'restrike':
      return typeof event.layerId === 'string';
    case 'without':
      return Array.isArray(event.ids) && within(event.gainDb, -60, 60);
    case 'listen':
      return event.to === null || typeof event.to.id === 'string';
    case 'voices':
      return event.most === null || isWhole(event.most, 1, 256);
    case 'stand':
    case 'panic':
      return true;
    default:
      return false;
  }
}

/** Events that wait for their frame, in order; equal frames keep the order of arrival. Made once, never grows. */
export class EventQueue {
  private readonly frames: Float64Array;
  private readonly events: (EngineEvent | null)[];
  private count = 0;

  constructor(capacity = 2048) {
    this.frames = new Float64Array(capacity);
    this.events = new Array<EngineEvent | null>(capacity).fill(null);
  }

  get isFull(): boolean {
    return this.count === this.events.length;
  }

  /** The frame of the next event, Infinity when there is none. */
  get nextFrame(): number {
    return this.count > 0 ? this.frames[this.count - 1] : Infinity;
  }

  /**
   * Adds an event; the caller makes sure there is room. Kept latest first, so that the next one is taken from the end.
   */
  add(event: EngineEvent, frame: number): void {
    let i = this.count++;
    while (i > 0 && this.frames[i - 1] <= frame) {
      this.frames[i] = this.frames[i - 1];
      this.events[i] = this.events[i - 1];
      i--;
    }
    this.frames[i] = frame;
    this.events[i] = event;
  }

  take(): EngineEvent {
    const event = this.events[--this.count]!;
    this.events[this.count] = null;
    return event;
  }

  clear(): void {
    this.events.fill(null);
    this.count = 0;
  }
}
