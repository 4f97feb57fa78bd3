import { Controllers } from '../core/engine/controllers';
import type { EngineEvent } from '../core/engine/event';

/** A strike as the interface shows it. `at` in milliseconds of the page's clock. */
export interface Strike { key: number; velocity: number; at: number }

const MOST_STRIKES = 48;

/**
 * What the hands are doing now, whichever way it came in: held keys, controllers, the last strikes. Fast things live here and not in the document's state;
 * views subscribe and draw at their own pace.
 */
export class Performance {
  readonly controllers = new Controllers();
  /** Velocity by held key. */
  readonly held = new Map<number, number>();
  readonly strikes: Strike[] = [];
  /** Goes up with every change, for views that ask whether to draw again; `controls` only with moved controllers. */
  version = 0;
  controls = 0;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  note(event: EngineEvent): void {
    switch (event.type) {
      case 'noteOn':
        this.held.set(event.key, event.velocity);
        this.strikes.push({ key: event.key, velocity: event.velocity, at: performance.now() });
        if (this.strikes.length > MOST_STRIKES) this.strikes.shift();
        break;
      case 'noteOff': this.held.delete(event.key); break;
      case 'controller':
        if (event.controller === 121) this.controllers.reset(event.channel);
        else if (event.controller < 120) this.controllers.setController(event.channel, event.controller, event.value);
        this.controls++;
        break;
      case 'bend': this.controllers.setBend(event.channel, event.bend); this.controls++; break;
      case 'channelPressure': this.controllers.setChannelPressure(event.channel, event.pressure); this.controls++; break;
      case 'keyPressure': this.controllers.setKeyPressure(event.channel, event.key, event.pressure); this.controls++; break;
      case 'macro': this.controllers.macros[event.number] = event.value; this.controls++; break;
      case 'panic':
        this.held.clear();
        for (let channel = 0; channel <= 16; channel++) this.controllers.reset(channel);
        this.controls++;
        break;
      case 'solo': return;
    }
    this.version++;
    for (const listener of this.listeners) listener();
  }
}
