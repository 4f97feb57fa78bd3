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
