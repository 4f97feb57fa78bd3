import { addressOf, Controllers } from '../core/engine/hands/controllers';
import type { EngineEvent } from '../core/engine/hands/event';

/** A strike as the interface shows it. `at` in milliseconds of the page's clock. */
/** `on`: the patch that played then. */
export interface Strike {
  key: number;
  velocity: number;
  at: number;
  on: string | null;
}

const MOST_STRIKES = 48;
const CHANNEL_NUMBERS = Array.from({ length: 16 }, (_, i) => i + 1);
/** Controllers that address registered and other parameters: sent again, they would set one. */
const PARAMETER_NUMBERS: ReadonlySet<number> = new Set([6, 38, 96, 97, 98, 99, 100, 101]);

/**
 * What the hands are doing now, whichever way it came in: held keys, controllers, the last strikes. Fast things live
 * here and not in the document's state;
 * views subscribe and draw at their own pace.
 */
export class Performance {
  readonly controllers = new Controllers();
  /** Velocity by held key. */
  readonly held = new Map<number, number>();
  /** A tempo that holds instead of the patch's own. */
  tempo: number | null = null;
  readonly strikes: Strike[] = [];
  /** Id of the patch that is played. */
  playsOn: string | null = null;
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
        this.strikes.push({ key: event.key, velocity: event.velocity, at: performance.now(), on: this.playsOn });
        if (this.strikes.length > MOST_STRIKES) this.strikes.shift();
        break;
      case 'noteOff':
        this.held.delete(event.key);
        break;
      case 'controller':
        if (event.controller === 121) this.controllers.reset(addressOf(event.port ?? 0, event.channel));
        else if (event.controller < 120)
          this.controllers.setController(addressOf(event.port ?? 0, event.channel), event.controller, event.value);
        this.controls++;
        break;
      case 'bend':
        this.controllers.setBend(addressOf(event.port ?? 0, event.channel), event.bend);
        this.controls++;
        break;
      case 'channelPressure':
        this.controllers.setChannelPressure(addressOf(event.port ?? 0, event.channel), event.pressure);
        this.controls++;
        break;
      case 'keyPressure':
        this.controllers.setKeyPressure(addressOf(event.port ?? 0, event.channel), event.key, event.pressure);
        this.controls++;
        break;
      case 'macro':
        this.controllers.macros[event.number] = event.value;
        this.controls++;
        break;
      case 'xy':
        this.controllers.dots[2 * event.number] = event.x;
        this.controllers.dots[2 * event.number + 1] = event.y;
        this.controllers.letGo[event.number] = event.letGo ? 1 : 0;
        this.controls++;
        break;
      case 'rest':
        if (event.kind === 'macro') this.controllers.macros[event.number] = NaN;
        else this.controllers.dots.fill(NaN, 2 * event.number, 2 * event.number + 2);
        this.controls++;
        break;
      case 'zones':
        this.controllers.setZones(event.port ?? 0, event.lower, event.upper, event.bendRange);
        break;
      case 'tempo':
        this.tempo = event.tempo;
        break;
      case 'position':
      case 'program':
      case 'restrike':
      case 'strip':
      case 'without':
      case 'listen':
      case 'voices':
      case 'stand':
        break;
      case 'panic':
        this.held.clear();
        for (let channel = 0; channel <= 16; channel++) this.controllers.reset(channel);
        this.controls++;
        break;
      case 'solo':
        return;
    }
    this.tell();
  }

  private tell(): void {
    this.version++;
    for (const listener of this.listeners) listener();
  }

  /** Macros rest where the new patch puts them, as they do in the engine. */
  restMacros(): void {
    this.controllers.macros.fill(NaN);
    this.controllers.dots.fill(NaN);
    this.controls++;
    this.tell();
  }

  /**
   * Events that bring what an event is about to move back to where it stands now; what any channel last said comes
   * last. None for what moves nothing that stays.
   */
  standing(event: EngineEvent): EngineEvent[] {
    if (!('channel' in event)) return [];
    const { cc, bend, channelPressure, keyPressure } = this.controllers;
    const both = (
      stands: (channel: number) => number,
      as: (channel: number, value: number) => EngineEvent,
    ): EngineEvent[] => {
      const own = as(event.channel, stands(event.channel));
      if (stands(0) === stands(event.channel)) return [own];
      const newest = CHANNEL_NUMBERS.find((channel) => stands(channel) === stands(0));
      return newest === undefined ? [own] : [own, as(newest, stands(0))];
    };
    switch (event.type) {
      case 'controller': {
        const { controller } = event;
        if (controller === 121) return this.moved().filter((moved) => moved.type !== 'macro');
        if (controller >= 120 || PARAMETER_NUMBERS.has(controller)) return [];
        return both(
          (channel) => cc[channel * 128 + controller],
          (channel, value) => ({ type: 'controller', channel, controller, value }),
        );
      }
      case 'bend':
        return both(
          (channel) => bend[channel],
          (channel, value) => ({ type: 'bend', channel, bend: value }),
        );
      case 'channelPressure':
        return both(
          (channel) => channelPressure[channel],
          (channel, pressure) => ({ type: 'channelPressure', channel, pressure }),
        );
      case 'keyPressure':
        return both(
          (channel) => keyPressure[channel * 128 + event.key],
          (channel, pressure) => ({ type: 'keyPressure', channel, key: event.key, pressure }),
        );
      default:
        return [];
    }
  }

  /**
   * Events that bring an engine at rest to where the hands are: everything that stands elsewhere. What any channel last
   * said comes last.
   */
  moved(): EngineEvent[] {
    const { controllers } = this;
    const rest = new Controllers();
    const events: { event: EngineEvent; newest: boolean }[] = [];
    for (let channel = 1; channel <= 16; channel++) {
      for (let controller = 0; controller < 120; controller++) {
        const value = controllers.cc[channel * 128 + controller];
        if (value !== rest.cc[controller])
          events.push({
            event: { type: 'controller', channel, controller, value },
            newest: value === controllers.cc[controller],
          });
      }
      const bend = controllers.bend[channel];
      if (bend !== 0) events.push({ event: { type: 'bend', channel, bend }, newest: bend === controllers.bend[0] });
      const pressure = controllers.channelPressure[channel];
      if (pressure !== 0)
        events.push({
          event: { type: 'channelPressure', channel, pressure },
          newest: pressure === controllers.channelPressure[0],
        });
    }
    const macros = [...controllers.macros].flatMap((value, number): EngineEvent[] =>
      Number.isNaN(value) ? [] : [{ type: 'macro', number, value }],
    );
    for (let number = 1; number <= 4; number++) {
      const x = controllers.dots[2 * number];
      if (!Number.isNaN(x))
        macros.push({
          type: 'xy',
          number,
          x,
          y: controllers.dots[2 * number + 1],
          letGo: controllers.letGo[number] === 1,
        });
    }
    if (this.tempo !== null) macros.push({ type: 'tempo', tempo: this.tempo });
    return [...events.filter(({ newest }) => !newest), ...events.filter(({ newest }) => newest)]
      .map(({ event }) => event)
      .concat(macros);
  }
}
