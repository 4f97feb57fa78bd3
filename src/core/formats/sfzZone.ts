import { parseKey } from '../music/noteNames';
import { dbOfGain } from '../music/pitch';
import { type ZoneParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { LayerWindow, Zone } from '../rig/schema';
import { parseSource } from '../space/source';
import type { FadeShape } from '../space/window';
import { plainPath } from './paths';
import type { SfzOpcodes } from './sfzOpcodes';

/** A sample that an SFZ file may name, by what is known of it. */
export interface SfzSample {
  sampleId: string;
  frames: number;
  root: number | null;
  tuneCents: number;
  loop: { start: number; end: number } | null;
}

/** The chance that `lorand` and `hirand` look at: one that patches seldom use. */
export const SFZ_CHANCE = 'random.8';

/** The values of opcodes as what they mean; nonsense is lost and said. */
export class Opcodes {
  constructor(
    private readonly opcodes: SfzOpcodes,
    private readonly lose: (what: string) => void,
  ) {}

  has(name: string): boolean {
    return this.opcodes.has(name);
  }

  /** Of two opcodes that say the same thing, whether the first is said nearer by, or as near. */
  isNearer(name: string, other: string): boolean {
    return this.opcodes.nearness(name) >= this.opcodes.nearness(other);
  }

  text(name: string): string | undefined {
    return this.opcodes.take(name);
  }

  controllers(stems: ReadonlySet<string>): number[] {
    return this.opcodes.controllers(stems);
  }

  /** A number held within its range, or undefined; nonsense is lost with its value. */
  maybe(name: string, low: number, high: number): number | undefined {
    const text = this.text(name);
    if (text === undefined) return undefined;
    const value = text === '' ? NaN : Number(text);
    if (Number.isNaN(value)) {
      this.lose(`${name}=${text.slice(0, 40)}`);
      return undefined;
    }
    if (value < low || value > high) this.lose(`${name}=${text.slice(0, 40)} (held at ${value < low ? low : high})`);
    return Math.min(high, Math.max(low, value));
  }

  number(name: string, low: number, high: number, otherwise: number): number {
    return this.maybe(name, low, high) ?? otherwise;
  }

  /** A key by number or name; c4 is 60, −1 means none. */
  key(name: string): number | undefined {
    const text = this.text(name);
    if (text === undefined) return undefined;
    const key = text.trim() === '-1' ? -1 : parseKey(text, 4);
    if (key === undefined) this.lose(`${name}=${text.slice(0, 40)}`);
    return key;
  }

  loseRest(): void {
    this.opcodes.forEachUnread(this.lose);
  }
}

export type Lose = (what: string) => void;

/** Stems of opcodes with the number of a controller: what it triggers, and where it lets through. */
export const TRIGGERS = new Set(['on_locc', 'on_hicc', 'start_locc', 'start_hicc']);
export const LABELS = ['region_label', 'group_label', 'sw_label'];
export const RANGES = new Set(['locc', 'hicc', 'xfin_locc', 'xfin_hicc', 'xfout_locc', 'xfout_hicc']);

export const drop = (warn: Lose, why: string): undefined => {
  warn(why);
};

export type Edge = Zone['key'];
export const followed = (source: string, edge: Edge): LayerWindow => ({ source, ...edge, read: 'always' });
/** Conditions hold when the note begins (SFZ v1); what they let through goes on. */
export const atStrike = (source: string, low: number, high: number): LayerWindow => ({
  source,
  low,
  high,
  fadeIn: 0,
  fadeOut: 0,
  shape: 'sine',
  read: 'at-strike',
});

export function shapeOf(op: Opcodes, name: string, lose: Lose): FadeShape {
  const curve = op.text(name);
  if (curve !== undefined && curve !== 'gain' && curve !== 'power') lose(`${name}=${curve}`);
  return curve === 'gain' ? 'linear' : 'root';
}

export function merged(
  low: number,
  high: number,
  inLow: number | undefined,
  inHigh: number | undefined,
  outLow: number | undefined,
  outHigh: number | undefined,
  least: number,
  most: number,
  shape: FadeShape,
): { edge: Edge; extra: Edge[] } | undefined {
  const edge: { -readonly [K in keyof Edge]: Edge[K] } = { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' };
  const extra: Edge[] = [];
  if (inLow !== undefined || inHigh !== undefined) {
    const from = Math.max(least, inLow ?? least);
    const fadeIn = Math.max(0, (inHigh ?? from) - from);
    if (from >= low) Object.assign(edge, { low: from, fadeIn }, fadeIn > 0 ? { shape } : {});
    else if (from + fadeIn > low) extra.push({ low: from, high: most, fadeIn, fadeOut: 0, shape });
  }
  if (outLow !== undefined || outHigh !== undefined) {
    const to = Math.min(most, outHigh ?? most);
    const fadeOut = Math.max(0, to - (outLow ?? to));
    if (to <= high) Object.assign(edge, { high: to, fadeOut }, fadeOut > 0 ? { shape } : {});
    else if (to - fadeOut < high) extra.push({ low: least, high: to, fadeIn: 0, fadeOut, shape });
  }
  return edge.low <= edge.high ? { edge, extra } : undefined;
}

export const clampTune = (tune: number, lose: Lose): number => {
  if (Math.abs(tune) > 1200) lose(`a tuning of ${Math.round(tune)} cents (held at ±1200)`);
  return Math.max(-1200, Math.min(1200, tune));
};

/** Resonance in dB above the level at low frequencies, as Q of a second-order filter: 0 dB is the flat one. */
export const qOfResonance = (db: number): number => Math.SQRT1_2 * 10 ** (db / 20);

export function zoneOf(
  op: Opcodes,
  keyOffset: number,
  defaultPath: string,
  sampleOf: (path: string) => SfzSample | undefined,
  lose: Lose,
  warn: Lose,
): Zone | undefined {
  const path = op.text('sample');
  if (path === undefined || path === '') return drop(warn, 'a region names no sample and is left out');
  if (path.startsWith('*'))
    return drop(warn, `sample=${path}: generated waves are not carried, the region is left out`);
  const clean = plainPath(defaultPath.replaceAll('\\', '/') + path);
  if (clean === undefined) return drop(warn, `sample=${path} leads out of the folder and is left out`);
  const sample = sampleOf(clean);
  if (!sample) return drop(warn, `sample=${path} is not in the folder, the region is left out`);
  if (op.controllers(TRIGGERS).length > 0) return drop(warn, 'a region that a controller triggers is left out');

  const trigger = op.text('trigger') ?? 'attack';
  if (trigger === 'legato') return drop(warn, 'a region with trigger=legato is left out');
  if (trigger !== 'attack' && trigger !== 'release' && trigger !== 'release_key') lose(`trigger=${trigger}`);

  const key = op.key('key');
  /** `key` stands for three opcodes; each of them counts where it is said as near. */
  const keyOr = (name: 'lokey' | 'hikey') => {
    const own = op.key(name);
    return op.isNearer(name, 'key') ? (own ?? key) : (key ?? own);
  };
  const lowKey = keyOr('lokey') ?? 0;
  const highKey = keyOr('hikey') ?? 127;
  if (highKey < 0 || lowKey > highKey) return drop(warn, 'a region on no key is left out');
  const shift = (k: number) => Math.max(0, Math.min(127, k + keyOffset));
  const keys = range(
    'key',
    Math.max(0, shift(Math.max(0, lowKey))),
    shift(highKey),
    0,
    127,
    shapeOf(op, 'xf_keycurve', lose),
    (name) => {
      const k = op.key(name);
      return k === undefined ? undefined : shift(k);
    },
  );
  const velocities = range(
    'vel',
    op.number('lovel', 0, 127, 1),
    op.number('hivel', 0, 127, 127),
    1,
    127,
    shapeOf(op, 'xf_velcurve', lose),
    (name) => op.maybe(name, 0, 127),
  );
  if (!keys || !velocities)
    return drop(warn, 'a region on no velocity, or with a crossfade outside its range, is left out');

  const pitch = pitchOf(op, key, keyOffset, sample, lose);
  const end = op.maybe('end', -1, 2 ** 31);
  if (end === -1) return drop(warn, 'a region with end=-1, which never sounds, is left out');
  const loop = loopOf(op, sample, trigger, lose, warn);
  const sequence = Math.round(op.number('seq_length', 1, 100, 1));
  const position = Math.min(sequence, Math.round(op.number('seq_position', 1, 100, 1)));
  const windows = [
    ...keys.extra.map((edge) => followed('key', edge)),
    ...velocities.extra.map((edge) => followed('velocity', edge)),
    ...windowsOf(op, lose),
  ];
  const zone: Zone = {
    sampleId: sample.sampleId,
    root: pitch.root,
    tune: pitch.tune,
    pitchPerKey: pitch.pitchPerKey,
    gain: op.number('volume', -96, 48, 0),
    pan: op.number('pan', -100, 100, 0) / 100,
    key: keys.edge,
    velocity: velocities.edge,
    windows,
    start: Math.round(op.number('offset', 0, Math.max(0, sample.frames - 1), 0)),
    end: end === undefined || end + 1 >= sample.frames ? null : Math.max(1, Math.round(end) + 1),
    reverse: op.text('direction') === 'reverse',
    loop: loop.loop,
    playback: loop.playback,
    trigger: trigger.startsWith('release') ? 'release' : 'attack',
    alternate: sequence > 1 ? position - 1 : null,
    turns: sequence > 1 ? sequence : null,
    choke: chokeOf(op, lose),
    fadeIn: 0,
    fadeOut: 0,
    params: paramsOf(op, lose),
  };
  // Said by nobody's sound, but by nobody's fault either.
  for (const name of LABELS) op.text(name);
  op.loseRest();
  return zone;
}

/**
 * A range and its crossfades as one window; where the range cuts into a fade, the fade becomes a window of its own.
 * Undefined where nothing is left.
 * Without fades the shape does not matter and is the usual one.
 */
function range(
  what: string,
  low: number,
  high: number,
  least: number,
  most: number,
  shape: FadeShape,
  value: (name: string) => number | undefined,
): { edge: Edge; extra: Edge[] } | undefined {
  return merged(
    Math.max(low, least),
    high,
    value(`xfin_lo${what}`),
    value(`xfin_hi${what}`),
    value(`xfout_lo${what}`),
    value(`xfout_hi${what}`),
    least,
    most,
    shape,
  );
}

/** Windows on controllers, chance, bend and pressure. */
function windowsOf(op: Opcodes, lose: Lose): LayerWindow[] {
  const windows: LayerWindow[] = [];
  const shape = shapeOf(op, 'xf_cccurve', lose);
  for (const n of op.controllers(RANGES)) {
    const value = (name: string) => op.maybe(`${name}${n}`, 0, 127);
    const [low, high] = [value('locc') ?? 0, value('hicc') ?? 127];
    const found = merged(
      0,
      127,
      value('xfin_locc'),
      value('xfin_hicc'),
      value('xfout_locc'),
      value('xfout_hicc'),
      0,
      127,
      shape,
    );
    const source = `cc.${n}`;
    if (!parseSource(source) || !found || low > high) {
      lose(`a range of controller ${n} that lets nothing through`);
      continue;
    }
    if (low > 0 || high < 127) windows.push(atStrike(source, low, high));
    for (const edge of [found.edge, ...found.extra])
      if (edge.low > 0 || edge.high < 127 || edge.fadeIn > 0 || edge.fadeOut > 0) windows.push(followed(source, edge));
  }
  const plain = (source: string, low: number | undefined, high: number | undefined) => {
    if (low === undefined && high === undefined) return;
    const { low: least, high: most } = parseSource(source)!;
    const [from, to] = [low ?? least, high ?? most];
    if (from > to) lose(`a range of ${source} that lets nothing through`);
    else if (from > least || to < most)
      windows.push(
        source === SFZ_CHANCE ? { ...atStrike(source, from, to), read: 'always' } : atStrike(source, from, to),
      );
  };
  plain(SFZ_CHANCE, op.maybe('lorand', 0, 1), op.maybe('hirand', 0, 1));
  const bend = (name: string) => {
    const value = op.maybe(name, -8192, 8192);
    return value === undefined ? undefined : Math.max(-1, Math.min(1, value / (value < 0 ? 8192 : 8191)));
  };
  plain('bend', bend('lobend'), bend('hibend'));
  plain('channelPressure', op.maybe('lochanaft', 0, 127), op.maybe('hichanaft', 0, 127));
  plain('pressure', op.maybe('lopolyaft', 0, 127), op.maybe('hipolyaft', 0, 127));
  return windows;
}

function pitchOf(
  op: Opcodes,
  key: number | undefined,
  keyOffset: number,
  sample: SfzSample,
  lose: Lose,
): { root: number; tune: number; pitchPerKey: number } {
  const pitchPerKey = op.number('pitch_keytrack', -1200, 1200, 100);
  const fromFile = op.text('pitch_keycenter') === 'sample' && op.isNearer('pitch_keycenter', 'key');
  const written = op.text('pitch_keycenter') === 'sample' ? undefined : op.key('pitch_keycenter');
  const center = fromFile
    ? (sample.root ?? 60)
    : ((op.isNearer('pitch_keycenter', 'key') ? (written ?? key) : (key ?? written)) ?? 60);
  const transpose = op.number('transpose', -127, 127, 0);
  let tune = op.number('tune', -9600, 9600, 0) + (fromFile ? sample.tuneCents : 0);
  // Note offsets move the keys a sample lies on, and its root with them.
  let root = center + (fromFile ? 0 : keyOffset);
  if (pitchPerKey === 100) root -= transpose;
  else tune += transpose * 100;
  const held = Math.max(0, Math.min(127, Math.round(root)));
  tune += (held - root) * (pitchPerKey === 100 ? 100 : pitchPerKey);
  if (Math.abs(tune) > 1200) {
    if (pitchPerKey === 100) {
      const semitones = Math.trunc(tune / 100);
      const moved = Math.max(0, Math.min(127, held - semitones));
      return { root: moved, tune: clampTune(tune - (held - moved) * 100, lose), pitchPerKey };
    }
    return { root: held, tune: clampTune(tune, lose), pitchPerKey };
  }
  return { root: held, tune, pitchPerKey };
}

function loopOf(
  op: Opcodes,
  sample: SfzSample,
  trigger: string,
  lose: Lose,
  warn: Lose,
): Pick<Zone, 'loop' | 'playback'> {
  const mode = op.text('loop_mode') ?? (sample.loop ? 'loop_continuous' : 'no_loop');
  const start = op.maybe('loop_start', 0, 2 ** 31) ?? sample.loop?.start ?? 0;
  const last = op.maybe('loop_end', 0, 2 ** 31);
  const end = last === undefined ? (sample.loop?.end ?? sample.frames) : last + 1;
  if (mode === 'one_shot') return { loop: null, playback: 'full-length' };
  if (mode === 'no_loop' || trigger.startsWith('release')) return { loop: null, playback: 'while-held' };
  if (mode !== 'loop_continuous' && mode !== 'loop_sustain') {
    lose(`loop_mode=${mode}`);
    return { loop: null, playback: 'while-held' };
  }
  const loop = {
    start: Math.round(start),
    end: Math.min(sample.frames, Math.round(end)),
    crossfade: 0,
    until: mode === 'loop_sustain' ? ('release' as const) : ('end' as const),
  };
  if (loop.start >= loop.end) {
    warn(`a loop from ${loop.start} to ${loop.end - 1} does not lie in its sample and is left out`);
    return { loop: null, playback: 'while-held' };
  }
  return { loop, playback: 'while-held' };
}

function chokeOf(op: Opcodes, lose: Lose): Zone['choke'] {
  const group = op.maybe('group', 0, 2 ** 31);
  const by = op.maybe('off_by', 0, 2 ** 31);
  const mode = op.text('off_mode') ?? 'fast';
  if (mode !== 'fast' && mode !== 'normal') lose(`off_mode=${mode}`);
  // Group 0 is where every region is that names none; nothing ends because of it.
  const named = (n: number | undefined) => (n === undefined || n === 0 ? null : Math.round(n));
  return named(group) === null && named(by) === null
    ? null
    : { group: named(group), by: named(by), fade: mode === 'normal' ? 'release' : 'fast' };
}

function paramsOf(op: Opcodes, lose: Lose): Zone['params'] {
  const params: { -readonly [K in ZoneParameterId]?: number } = {};
  const set = (id: ZoneParameterId, value: number | undefined) => {
    if (value === undefined || Number.isNaN(value)) return;
    const { low, high, default: rest } = LAYER_PARAMETERS[id];
    const held = Math.min(high, Math.max(low, value));
    // Times that are shorter than the shortest, and levels below silence, lose nothing that is heard.
    if (value > high || (value < low && id !== 'sustain' && LAYER_PARAMETERS[id].unit !== 's'))
      lose(`${LAYER_PARAMETERS[id].label} of ${Number(value.toPrecision(4))} (held at ${held})`);
    if (held !== rest) params[id] = held;
  };
  for (const stage of ['delay', 'attack', 'hold', 'decay', 'release'] as const)
    set(stage, op.maybe(`ampeg_${stage}`, 0, 100));
  set('startLevel', op.maybe('ampeg_start', 0, 100));
  const sustain = op.maybe('ampeg_sustain', 0, 100);
  if (sustain !== undefined) set('sustain', dbOfGain(sustain / 100));
  // A decay that is not said lasts no time (SFZ v1, default 0).
  if (sustain !== undefined && sustain < 100 && !op.has('ampeg_decay')) set('decay', 0);
  const tracking = op.maybe('amp_veltrack', -100, 100);
  if (tracking !== undefined && tracking < 0) lose(`amp_veltrack=${tracking} (held at 0)`);
  set('velocityToLevel', tracking);
  filterOf(op, set, lose);
  const up = op.maybe('bend_up', -9600, 9600);
  const down = op.maybe('bend_down', -9600, 9600);
  if (up !== undefined || down !== undefined) {
    const cents = up ?? -down!;
    if (-(down ?? -cents) !== cents) lose(`bend_down=${down} (bend is the same both ways)`);
    if (cents < 0) lose(`bend_up=${cents}`);
    set('bendRange', Math.abs(cents) / 100);
  }
  return params;
}

function filterOf(op: Opcodes, set: (id: ZoneParameterId, value: number | undefined) => void, lose: Lose): void {
  const type = op.text('fil_type') ?? 'lpf_2p';
  const cutoff = op.maybe('cutoff', 0, 96000);
  const resonance = op.maybe('resonance', 0, 40);
  const keyTrack = op.maybe('fil_keytrack', -1200, 1200);
  const center = op.key('fil_keycenter') ?? 60;
  const velocityTrack = op.maybe('fil_veltrack', -9600, 9600);
  if (cutoff === undefined) return;
  if (type === 'hpf_2p') {
    set('lowCut', cutoff);
    if (resonance) lose('resonance of a high-pass');
    if (keyTrack) lose('fil_keytrack of a high-pass');
    if (velocityTrack) lose('fil_veltrack of a high-pass');
    return;
  }
  if (type !== 'lpf_2p') {
    lose(`fil_type=${type}`);
    return;
  }
  // Our filter follows the keys from middle C; another centre moves the cutoff instead.
  set('cutoff', cutoff * 2 ** (((keyTrack ?? 0) * (60 - center)) / 1200));
  if (resonance !== undefined) set('resonance', qOfResonance(resonance));
  if (keyTrack !== undefined) set('keyTrack', keyTrack);
  if (velocityTrack !== undefined) set('velocityTrack', velocityTrack / 100);
}
