/** What reaches the engine: decoded MIDI, and what the interface moves by itself. Channels 1…16. */
export type EngineEvent =
  | { type: 'noteOn'; channel: number; key: number; velocity: number }
  | { type: 'noteOff'; channel: number; key: number; velocity: number }
  | { type: 'keyPressure'; channel: number; key: number; pressure: number }
  | { type: 'controller'; channel: number; controller: number; value: number }
  | { type: 'channelPressure'; channel: number; pressure: number }
  /** −1…1. */
  | { type: 'bend'; channel: number; bend: number }
  | { type: 'macro'; number: number; value: number }
  /** Only these layers are heard; an empty list means all. Ids of layers. */
  | { type: 'solo'; layerIds: readonly string[] }
  /** Silence, at once but without a click; pedals and bend go back to rest. */
  | { type: 'panic' };

const within = (x: number, low: number, high: number): boolean => x >= low && x <= high;
const isWhole = (x: number, low: number, high: number): boolean => Number.isInteger(x) && within(x, low, high);

/** Whether an event means something; what comes from outside may hold anything. */
export function isMeaningful(event: EngineEvent): boolean {
  switch (event.type) {
    case 'noteOn': return isWhole(event.channel, 1, 16) && isWhole(event.key, 0, 127) && isWhole(event.velocity, 1, 127);
    case 'noteOff': return isWhole(event.channel, 1, 16) && isWhole(event.key, 0, 127);
    case 'keyPressure': return isWhole(event.channel, 1, 16) && isWhole(event.key, 0, 127) && within(event.pressure, 0, 127);
    case 'controller': return isWhole(event.channel, 1, 16) && isWhole(event.controller, 0, 127) && within(event.value, 0, 127);
    case 'channelPressure': return isWhole(event.channel, 1, 16) && within(event.pressure, 0, 127);
    case 'bend': return isWhole(event.channel, 1, 16) && within(event.bend, -1, 1);
    case 'macro': return isWhole(event.number, 1, 16) && within(event.value, 0, 1);
    case 'solo': return Array.isArray(event.layerIds);
    case 'panic': return true;
    default: return false;
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

  /** Adds an event; the caller makes sure there is room. Kept latest first, so that the next one is taken from the end. */
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
