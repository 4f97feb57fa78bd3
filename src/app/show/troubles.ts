import { effectKind } from '../../core/effects';
import { instrumentsUsed } from '../../core/rig/edits/outside';
import { effectsIn, nameOfPlace } from '../../core/rig/mix';
import type { Patch, Rig } from '../../core/rig/schema';
import type { Costs } from '../../core/measure/cost';
import { METER, METER_VOICES, METERED_LAYERS } from '../../host/protocol';
import { measureCosts } from '../jobs/measuring';
import { session } from '../sound/session';
import { store } from '../document/store';
import { neighboursOf, placeInShow } from './show';

/**
 * Something that is wrong now, told in one calm line; it goes when it is mended. `action`: what can be done about it at
 * once.
 */
export interface Trouble {
  id: 'sound' | 'controller' | 'device' | 'samples' | 'load' | 'battery' | 'tab' | 'outside' | 'outputs' | 'input';
  text: string;
  action?: { label: string; run: () => void };
}

const EVERY_MS = 500;
/**
 * Load that is told, and below which it is over; where *lighter* brings it. Common practice, no source: beyond four
 * fifths a burst of notes has no room left.
 */
const HIGH = 0.8,
  OVER = 0.65,
  LIGHT = 0.6;
/** So many looks in a row must find it. */
const LOOKS = 3;
const FEWEST_VOICES = 16;
const DEVICE_SHOWN_MS = 12_000;
/** Share of the battery below which it is told. */
const LOW_BATTERY = 0.2;

interface Battery extends EventTarget {
  level: number;
  charging: boolean;
}

/** Instruments outside that a patch plays, and whose outputs are not there, by name. */
function outputsAway(rig: Rig | null, patch: Patch | null): string[] {
  if (!rig || !patch) return [];
  const used = instrumentsUsed(patch);
  return rig.instruments
    .filter(({ id, output }) => used.includes(id) && !session.outputs.has(output))
    .map(({ name }) => `“${name}”`);
}

/** What leaves this machine, and has nowhere to go. */
function* troublesOutside(rig: Rig | null, patch: Patch | null): Generator<Trouble> {
  if (session.live.problem !== '')
    yield {
      id: 'input',
      text: `The input is muted: ${session.live.problem}.`,
      action: { label: 'open it', run: () => void session.live.open() },
    };
  const lost = session.pairs.missing.map((name) => `“${name}”`).join(', ');
  if (lost !== '')
    yield {
      id: 'outputs',
      text: `This sound device has no channels for ${lost}: what goes there is heard in the first pair${session.pairs.isClickLost ? ', and the click is silent' : ''}.`,
    };
  const away = outputsAway(rig, patch);
  if (away.length > 0)
    yield {
      id: 'outside',
      text: `${away.join(', ')} ${away.length === 1 ? 'is' : 'are'} not there: what this patch plays outside is silent. It is told everything as soon as it is back.`,
    };
}

/** Looks after what can go wrong on stage; never stops anything. */
class Troubles {
  list: readonly Trouble[] = [];
  /** Fewer voices than there could be, so that the machine keeps up; null: all. */
  lighter: number | null = null;
  private readonly listeners = new Set<() => void>();
  private readonly seen = new Set<string>();
  private high = 0;
  private calm = 0;
  private loaded = false;
  private deviceUntil = 0;
  private deviceText = '';
  private battery: Battery | null = null;
  private costs: { patchId: string; costs: Costs } | null = null;
  private asking = false;
  private known = { readOnly: false, onStage: false };

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  start(): void {
    session.audio.onDevice = (text) => {
      this.deviceText = text;
      this.deviceUntil = performance.now() + DEVICE_SHOWN_MS;
      this.look();
    };
    session.audio.onFault = (id) => {
      this.deviceText = `${this.nameOf(id)} made what no loudspeaker can play: it was silent for a moment and begun anew.`;
      this.deviceUntil = performance.now() + DEVICE_SHOWN_MS;
      this.look();
    };
    const see = () => {
      for (const name of session.midi.status.names) this.seen.add(name);
      this.look();
    };
    session.midi.subscribe(see);
    // It begins when the page stands already.
    see();
    session.audio.subscribe(() => this.look());
    // Not at every edit: only what is told here.
    store.subscribe(() => {
      const {
        rig: { readOnly },
        show: { onStage },
      } = store.getState();
      if (readOnly !== this.known.readOnly || onStage !== this.known.onStage) {
        this.known = { readOnly, onStage };
        this.look();
      }
    });
    navigator.mediaDevices?.addEventListener?.('devicechange', () => session.audio.watch());
    void (navigator as { getBattery?: () => Promise<Battery> })
      .getBattery?.()
      .then((battery) => {
        this.battery = battery;
      })
      .catch(() => undefined);
    setInterval(() => {
      session.audio.watch();
      this.watchLoad();
      this.look();
    }, EVERY_MS);
  }

  /** Fewer voices, those that are missed least ended first; or all again. */
  setLighter(on: boolean): void {
    const { meters } = session.audio;
    this.allow(on ? this.voicesFor(meters[METER.load], meters[METER.voices]) : null);
    this.look();
  }

  private allow(most: number | null): void {
    this.lighter = most;
    session.ears.allow(most);
  }

  /** How many voices bring a load under the bar, when all of it were theirs. */
  private voicesFor(load: number, voices: number): number {
    return Math.max(
      FEWEST_VOICES,
      Math.min(256, Math.floor(voices * Math.min(1, (LIGHT * 0.95) / Math.max(load, 0.01)))),
    );
  }

  private watchLoad(): void {
    const { meters, state } = session.audio;
    const load = state === 'running' ? meters[METER.load] : 0;
    this.high = load > HIGH ? this.high + 1 : 0;
    this.calm = load < OVER ? this.calm + 1 : 0;
    if (this.high >= LOOKS) {
      if (!this.loaded) void this.askCosts();
      this.loaded = true;
    } else if (this.calm >= 2 * LOOKS) this.loaded = false;
    // What is still too much is made lighter again, as long as it is wanted.
    if (this.lighter !== null && load > LIGHT && meters[METER.voices] > FEWEST_VOICES)
      this.allow(this.voicesFor(load, Math.min(this.lighter, meters[METER.voices])));
  }

  private async askCosts(): Promise<void> {
    const { rig } = store.getState().rig;
    const patchId = session.shownPatchId;
    if (!rig || !patchId || this.asking || this.costs?.patchId === patchId || !session.shown) return;
    this.asking = true;
    try {
      this.costs = { patchId, costs: await measureCosts(rig, session.shown) };
    } catch {
      /* Then only the load is told. */
    }
    this.asking = false;
    this.look();
  }

  /** What people call a layer or an effect of the patch that plays. */
  private nameOf(id: string): string {
    const { shown } = session;
    const layer = shown?.layers.find((each) => each.id === id);
    if (layer) return `The layer ${layer.name}`;
    const found = shown ? effectsIn(shown).find(({ effect }) => effect.id === id) : undefined;
    return found
      ? `The ${effectKind(found.effect.kind).label} on ${nameOfPlace(shown!, found.place)}`
      : 'The main output';
  }

  /** What takes most of the load, in words. */
  private mostCostly(): string {
    const { program, shown } = session;
    if (!program || !shown || this.costs?.patchId !== shown.id) return '';
    const { meters } = session.audio;
    const shares = [
      ...program.layers.slice(0, METERED_LAYERS).map(({ id }, l) => ({
        what: shown.layers.find((layer) => layer.id === id)?.name ?? id,
        voices: meters[METER_VOICES + l],
        share: (this.costs!.costs.voices[l] ?? 0) * meters[METER_VOICES + l],
      })),
      ...this.costs.costs.effects.map(({ label, place, share }) => ({
        what: `${label.toLowerCase()} on ${nameOfPlace(shown, place)}`,
        voices: 0,
        share,
      })),
    ]
      .filter(({ share }) => share > 0.01)
      .sort((a, b) => b.share - a.share)
      .slice(0, 3);
    return shares
      .map(
        ({ what, voices, share }) =>
          `${what} ${voices > 0 ? `(${voices} ${voices === 1 ? 'voice' : 'voices'}, ${Math.round(share * 100)} %)` : `(${Math.round(share * 100)} %)`}`,
      )
      .join(', ');
  }

  private look(): void {
    const next = [...this.find()];
    if (
      next.length === this.list.length &&
      next.every(
        ({ id, text, action }, i) =>
          id === this.list[i].id && text === this.list[i].text && action?.label === this.list[i].action?.label,
      )
    )
      return;
    this.list = next;
    for (const listener of this.listeners) listener();
  }

  private *find(): Generator<Trouble> {
    const { audio, midi } = session;
    const {
      rig: { rig, readOnly },
      show: { onStage, stepId },
    } = store.getState();
    if (audio.state === 'failed') yield { id: 'sound', text: audio.problem };
    else if (audio.state === 'off')
      yield {
        id: 'sound',
        text: 'Sound waits for a touch or a key.',
        action: { label: 'start sound', run: () => void audio.start() },
      };
    if (performance.now() < this.deviceUntil) yield { id: 'device', text: this.deviceText };
    const gone = [...this.seen].filter((name) => !midi.status.names.includes(name));
    if (gone.length > 0)
      yield {
        id: 'controller',
        text: `${gone.map((name) => `“${name}”`).join(', ')} ${gone.length === 1 ? 'is' : 'are'} gone: its keys and pedals were let go. It plays again as soon as it is back.`,
        action: {
          label: 'I know',
          run: () => {
            for (const name of gone) this.seen.delete(name);
            this.look();
          },
        },
      };
    yield* troublesOutside(rig, session.shown);
    // Asked for on Stage alone, where it is told: it may have to compile what is edited elsewhere.
    if (onStage && rig && session.shown) {
      const place = placeInShow(rig, stepId);
      const here = session.programs.readinessOf(rig, session.shown)?.missing ?? 0;
      const others = neighboursOf(rig, place).filter(
        (patch) => (session.programs.readinessOf(rig, patch)?.missing ?? 0) > 0,
      );
      if (here > 0)
        yield {
          id: 'samples',
          text: `${here} ${here === 1 ? 'sample of' : 'samples of'} ${session.shown.name} ${here === 1 ? 'is' : 'are'} missing: ${here === 1 ? 'its' : 'their'} keys stay silent.`,
        };
      else if (others.length > 0)
        yield { id: 'samples', text: `Samples of ${others.map(({ name }) => name).join(' and ')} are missing.` };
    }
    if (this.lighter !== null)
      yield {
        id: 'load',
        text: `Lighter: ${this.lighter} voices at the most, load ${Math.round(audio.meters[METER.load] * 20) * 5} %.`,
        action: { label: 'all voices again', run: () => this.setLighter(false) },
      };
    else if (this.loaded) {
      const costly = this.mostCostly();
      yield {
        id: 'load',
        text: `The machine is at its limit.${costly ? ` Most of it: ${costly}.` : ''}`,
        action: { label: 'lighter', run: () => this.setLighter(true) },
      };
    }
    if (this.battery && !this.battery.charging && this.battery.level <= LOW_BATTERY)
      yield { id: 'battery', text: `The battery is at ${Math.round(this.battery.level * 100)} %: plug it in.` };
    if (readOnly) yield { id: 'tab', text: 'Another tab has this rig: playing goes on, edits are off here.' };
  }
}

export const troubles = new Troubles();
