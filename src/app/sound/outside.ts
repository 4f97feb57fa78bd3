import { addressOf, hearsAddress } from '../../core/engine/hands/controllers';
import type { EngineEvent } from '../../core/engine/hands/event';
import { hears } from '../../core/engine/moving/evaluate';
import type { ProgramLayer } from '../../core/engine/program/program';
import { bytesOfMessage, isExclusive, wordsOfMessage } from '../../core/music/outside';
import type { Instrument, Message, Patch, Rig } from '../../core/rig/schema';
import type { AudioHost } from '../../host/audioHost';
import { ClockOut } from '../../host/clockOut';
import type { MidiOutputs } from '../../host/midiOutputs';
import type { Performance } from '../../host/performance';
import { METER, METER_KNOBS } from '../../host/protocol';
import type { MadeNotes } from './madeNotes';
import type { ProgramChange, Programs } from './programs';

/** How often what instruments outside are told is looked after. */
const EVERY_MS = 4;
/** Controllers that layers pass on: wheels and pedals; all others are for routes. */
const PASSED: ReadonlySet<number> = new Set([1, 2, 4, 7, 11, 64, 65, 66, 67, 68, 69]);

/** What was told in words, and when it could not be, why. */
export interface ToldLine {
  instrument: string;
  words: string;
  problem: string;
}

interface Around {
  engine: Pick<AudioHost, 'meters' | 'context' | 'state'>;
  programs: Pick<Programs, 'program' | 'patch' | 'rig' | 'serial'>;
  outputs: MidiOutputs;
  hands: Pick<Performance, 'moved' | 'controllers'>;
  made: Pick<MadeNotes, 'read'>;
  tell: () => void;
}

/**
 * Instruments outside: what they are told when a patch is entered and left, what hands do on layers that play them,
 * values that macros and movers move there, and the clock.
 */
export class Outside {
  /** What was told when the patch that plays was entered, for whoever looks. */
  told: ToldLine[] = [];
  readonly clock = new ClockOut((bytes, at) => this.toClocked(bytes, at));
  /** The patch that was entered last, as it was heard last. */
  private entered: { rig: Rig; patch: Patch } | null = null;
  private timer: ReturnType<typeof setInterval> | undefined;
  /**
   * Messages of entering that wait for a pause to end, by instrument: none is sent any more once the patch was left, or
   * its instrument is told anew.
   */
  private readonly entering = new Map<string, ReturnType<typeof setTimeout>[]>();
  /** By instrument: when the last message that is to be sent, and its pause, are over. */
  private readonly busyUntil = new Map<string, number>();
  /** What knobs stand at there, by their ids. */
  private readonly stands = new Map<string, number>();

  constructor(private readonly around: Around) {
    around.outputs.onCame = (name) => this.outputCame(name);
  }

  /** Another patch plays, or another state of it. */
  follow({ rig, patch }: ProgramChange): void {
    // A sound that is tried by itself, or what else is no patch of the rig, is neither entered nor left.
    if (!rig.patches.some(({ id }) => id === patch.id)) return;
    const { entered } = this;
    this.entered = { rig, patch };
    if (entered?.rig.id !== rig.id || entered.patch.id !== patch.id) {
      for (const id of this.entering.keys()) this.dropWaiting(id);
      if (entered) this.tellAll(entered.rig, entered.patch, 'leave');
      this.stands.clear();
      this.told = this.tellAll(rig, patch, 'enter');
      for (const event of this.around.hands.moved()) this.pass(event);
    } else this.followMoved(entered.rig, rig);
    this.moveKnobs();
    this.keep(rig, patch);
  }

  /** An instrument that hangs elsewhere now holds nothing where it was, and is told everything where it is. */
  private followMoved(before: Rig, now: Rig): void {
    if (before.instruments === now.instruments) return;
    const moved = now.instruments.filter(({ id, output, channel }) => {
      const old = before.instruments.find((each) => each.id === id);
      return old && (old.output !== output || old.channel !== channel);
    });
    if (moved.length > 0) this.around.outputs.letGo();
    for (const { id } of moved) this.tellAgain(id);
  }

  /** Looks after it as long as there is something to look after. */
  private keep({ instruments }: Rig, { layers, knobs }: Patch): void {
    const any =
      knobs.length > 0 ||
      layers.some(({ path }) => path.instrument !== null) ||
      instruments.some(({ clock, output }) => clock && output !== '');
    if (any && this.timer === undefined) this.timer = setInterval(() => this.look(), EVERY_MS);
    if (!any) this.rest();
  }

  rest(): void {
    clearInterval(this.timer);
    this.timer = undefined;
  }

  private look(): void {
    const { made, outputs, engine, tell } = this.around;
    if (made.read()) tell();
    this.moveKnobs();
    outputs.flush();
    const { context, meters } = engine;
    if (engine.state !== 'running' || !context) return;
    const now = performance.now();
    const heard = heardAt(context);
    this.clock.look(now, meters[METER.position], heard, meters[METER.tempo]);
  }

  private dropWaiting(instrumentId: string): void {
    for (const timer of this.entering.get(instrumentId) ?? []) clearTimeout(timer);
    this.entering.delete(instrumentId);
  }

  /** Sends what a patch tells its instruments; gives it in words. */
  private tellAll(rig: Rig, patch: Patch, when: 'enter' | 'leave'): ToldLine[] {
    return patch.told.flatMap((each) => {
      const instrument = rig.instruments.find(({ id }) => id === each.id);
      return instrument ? this.tellOne(instrument, each[when], when) : [];
    });
  }

  private tellOne(instrument: Instrument, messages: readonly Message[], when: 'enter' | 'leave'): ToldLine[] {
    const { outputs } = this.around;
    const now = performance.now();
    const waiting: ReturnType<typeof setTimeout>[] = [];
    let at = Math.max(now, when === 'leave' ? 0 : (this.busyUntil.get(instrument.id) ?? 0));
    const told = messages.map((message): ToldLine => {
      const all = bytesOfMessage(message, instrument.channel);
      const send = () => {
        for (const bytes of all) outputs.tell(instrument.output, bytes);
      };
      if (at <= now) send();
      else waiting.push(setTimeout(send, at - now));
      at += message.pause;
      return {
        instrument: instrument.name,
        words: wordsOfMessage(message),
        problem: this.problemOf(instrument, all.some(isExclusive)),
      };
    });
    if (when === 'leave') this.busyUntil.set(instrument.id, at);
    else this.entering.set(instrument.id, waiting);
    return told;
  }

  private problemOf({ output }: Instrument, exclusive: boolean): string {
    const { outputs } = this.around;
    if (output === '') return 'no output is chosen for it';
    if (!outputs.has(output)) return `the output “${output}” is not there`;
    return exclusive && !outputs.canTellExclusive(output) ? 'system exclusive is not permitted' : '';
  }

  /** Tells an instrument again what it is told on entering: by hand, or because it has just been plugged in. */
  tellAgain(instrumentId: string): void {
    const { rig, patch } = this.around.programs;
    const instrument = rig?.instruments.find(({ id }) => id === instrumentId);
    if (!rig || !patch || !instrument) return;
    const told = patch.told.find(({ id }) => id === instrumentId)?.enter ?? [];
    this.dropWaiting(instrumentId);
    this.told = [
      ...this.told.filter((each) => each.instrument !== instrument.name),
      ...this.tellOne(instrument, told, 'enter'),
    ];
    for (const { id, instrumentId: of } of patch.knobs) if (of === instrumentId) this.stands.delete(id);
    this.moveKnobs();
    this.around.tell();
  }

  private outputCame(name: string): void {
    for (const { id, output } of this.around.programs.rig?.instruments ?? []) if (output === name) this.tellAgain(id);
  }

  /** Sends the values that have moved. */
  private moveKnobs(): void {
    const { programs, engine, outputs } = this.around;
    const { patch, rig } = programs;
    if (!patch || !rig || patch.knobs.length === 0) return;
    // Before the engine plays this program, values are where the patch rests them.
    const live = engine.state === 'running' && engine.meters[METER.program] === programs.serial;
    patch.knobs.forEach(({ id, instrumentId, controller, value }, k) => {
      const to = Math.max(0, Math.min(127, live ? engine.meters[METER_KNOBS + k] : Math.round(value)));
      if (this.stands.get(id) === to) return;
      const instrument = rig.instruments.find((each) => each.id === instrumentId);
      if (!instrument || !outputs.has(instrument.output)) return;
      this.stands.set(id, to);
      outputs.move(instrument.output, [0xb0 | (instrument.channel - 1), controller, to]);
    });
  }

  /** What hands do besides notes goes to the instruments of layers that hear it, once to each. */
  pass(event: EngineEvent): void {
    if (event.type === 'position') return this.start(event.quarters);
    if (!isPassed(event)) return;
    const { programs, outputs, hands } = this.around;
    const { program, patch, rig } = programs;
    if (!program || !patch || !rig) return;
    const from = addressOf(event.port ?? 0, event.channel);
    // What a single finger does is not for a channel of many.
    if (hands.controllers.masterOf[from] > 0) return;
    const sent = new Set<string>();
    patch.layers.forEach((layer, l) => {
      const id = layer.path.instrument;
      const heard = program.layers[l];
      if (id === null || !layer.on || !heard || !hearsEvent(heard, event, from)) return;
      const key = event.type === 'keyPressure' ? event.key + layer.transpose : 0;
      const once = `${id} ${key}`;
      const instrument = rig.instruments.find((each) => each.id === id);
      if (!instrument || sent.has(once) || key < 0 || key > 127) return;
      sent.add(once);
      outputs.event(instrument.output, event.type === 'keyPressure' ? { ...event, key } : event, instrument.channel);
    });
  }

  /** The transport begins somewhere: instruments that follow the clock do as well. */
  start(quarters: number): void {
    this.clock.start(quarters, performance.now());
  }
  stop(): void {
    this.clock.stop(performance.now());
  }

  private toClocked(bytes: readonly number[], at: number): void {
    const { programs, outputs } = this.around;
    const sent = new Set<string>();
    for (const { clock, output } of programs.rig?.instruments ?? [])
      if (clock && !sent.has(output)) {
        sent.add(output);
        outputs.tell(output, bytes, at);
      }
  }
}

type Passed = Extract<EngineEvent, { type: 'controller' | 'bend' | 'channelPressure' | 'keyPressure' }>;

const isPassed = (event: EngineEvent): event is Passed =>
  event.type === 'controller'
    ? PASSED.has(event.controller)
    : event.type === 'bend' || event.type === 'channelPressure' || event.type === 'keyPressure';

function hearsEvent(layer: ProgramLayer, event: Passed, from: number): boolean {
  if (!hearsAddress(layer.channel, from)) return false;
  if (event.type === 'controller') return hears(layer, event.controller);
  return event.type === 'bend' ? layer.receive.bend : layer.receive.pressure;
}

/** When what the engine has made last is heard, by the page's clock in ms. */
function heardAt(context: BaseAudioContext): number {
  const stamp = (context as AudioContext).getOutputTimestamp?.();
  const now = performance.now();
  if (!stamp?.performanceTime || stamp.contextTime === undefined) return now;
  return stamp.performanceTime + (context.currentTime - stamp.contextTime) * 1000;
}
