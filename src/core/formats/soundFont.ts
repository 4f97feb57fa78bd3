import { SoundBankLoader, SpessaLog } from 'spessasynth_core';
import type { Audio } from '../dsp/sample';
import { newZone } from '../rig/defaults';
import { type ZoneParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { Zone } from '../rig/schema';
import { FileError } from './fileError';
import type { NotCarried } from './sfzRead';
import { checkSoundFont } from './soundFontCheck';
import { ATTENUATION_BY_VELOCITY, VELOCITY_CONCAVE, VELOCITY_LINEAR } from './soundFontWrite';
import { narrowestEncoding, writeWav } from './wav';

// What the parser has to say goes into errors and lists here, not to the console.
SpessaLog.setLogLevel(false, false, false);

/** One preset of a SoundFont as a sound; `sample` of a zone is the place in `samples`. */
export interface SoundFontPreset {
  name: string;
  bank: number;
  program: number;
  zones: { sample: number; zone: Zone }[];
  notCarried: NotCarried[];
}
export interface SoundFontSample {
  name: string;
  audio: Audio;
  wav: Uint8Array;
}
export interface SoundFontReading {
  name: string;
  presets: SoundFontPreset[];
  samples: SoundFontSample[];
}

/** Generators of the SoundFont 2.04 specification that have a meaning here, by their numbers (section 8.1.2). */
const G = {
  startOffset: 0,
  endOffset: 1,
  loopStartOffset: 2,
  loopEndOffset: 3,
  startCoarse: 4,
  cutoff: 8,
  resonance: 9,
  endCoarse: 12,
  pan: 17,
  delay: 33,
  attack: 34,
  hold: 35,
  decay: 36,
  sustain: 37,
  release: 38,
  attenuation: 48,
  loopStartCoarse: 45,
  loopEndCoarse: 50,
  coarseTune: 51,
  fineTune: 52,
  sampleModes: 54,
  scaleTuning: 56,
  exclusiveClass: 57,
  root: 58,
  velocity: 47,
  key: 46,
} as const;
const OTHERS: Record<number, string> = {
  5: 'modulation LFO to pitch',
  6: 'vibrato',
  7: 'modulation envelope to pitch',
  10: 'modulation LFO to filter',
  11: 'modulation envelope to filter',
  13: 'tremolo',
  15: 'chorus send',
  16: 'reverb send',
  39: 'hold time by key',
  40: 'decay time by key',
  46: 'a fixed key',
  47: 'a fixed velocity',
};
/** What a generator is where nobody says (section 8.1.3). */
const DEFAULTS: Record<number, number> = {
  [G.cutoff]: 13500,
  [G.delay]: -12000,
  [G.attack]: -12000,
  [G.hold]: -12000,
  [G.decay]: -12000,
  [G.release]: -12000,
  [G.scaleTuning]: 100,
  [G.root]: -1,
  [G.key]: -1,
  [G.velocity]: -1,
};
/** Generators that a preset may not add to (section 8.5, "Instrument level only"). */
const INSTRUMENT_ONLY: ReadonlySet<number> = new Set([0, 1, 2, 3, 4, 12, 45, 46, 47, 50, 54, 57, 58]);

/** Seconds of an absolute time in timecents (section 9.1.6: 1200·log2 s). */
export const secondsOfTimecents = (timecents: number): number => 2 ** (timecents / 1200);
/** Hertz of absolute cents (8.176 Hz is 0). */
export const hzOfAbsoluteCents = (cents: number): number => 8.176 * 2 ** (cents / 1200);

interface AnyZone {
  generators: { type: number; value: number }[];
  modulators: {
    primarySource: { toSourceEnum(): number };
    secondarySource: { toSourceEnum(): number };
    destination: number;
    transformAmount: number;
  }[];
  keyRange: { min: number; max: number };
  velRange: { min: number; max: number };
}

/**
 * Reads a SoundFont 2 file: each preset becomes a sound. Preset and instrument zones are joined as the specification
 * says: instrument values replace
 * defaults, preset values are added, global zones stand in for what a zone does not say, ranges narrow each other.
 * Throws a {@link FileError}.
 */
export function readSoundFont(bytes: Uint8Array): SoundFontReading {
  let bank: ReturnType<typeof SoundBankLoader.fromArrayBuffer>;
  const inDevice = checkSoundFont(bytes);
  try {
    // A copy of its own: the bytes may be a view of a larger buffer.
    bank = SoundBankLoader.fromArrayBuffer(new Uint8Array(bytes).buffer);
  } catch (error) {
    throw new FileError(
      '',
      `this SoundFont is damaged or cut off (${error instanceof Error ? error.message : String(error)})`,
    );
  }
  const samples: SoundFontSample[] = [];
  const placeOf = new Map<unknown, number>();
  const samplePlace = (sample: (typeof bank.samples)[number]): number => {
    const known = placeOf.get(sample);
    if (known !== undefined) return known;
    let place = -1;
    // What lies elsewhere must not be asked for: the parser would make room for as much as the record says.
    if (inDevice.has(bank.samples.indexOf(sample))) {
      placeOf.set(sample, place);
      return place;
    }
    try {
      const data = Float32Array.from(sample.getAudioData(), (x) => (Number.isFinite(x) ? x : 0));
      if (data.length > 0 && sample.sampleRate >= 1000 && sample.sampleRate <= 768000) {
        const audio: Audio = { rate: sample.sampleRate, channels: 1, data };
        place =
          samples.push({
            name: `${sample.name.trim() || `sample ${samples.length + 1}`}.wav`,
            audio,
            wav: writeWav(audio, { encoding: narrowestEncoding(data) }),
          }) - 1;
      }
    } catch {
      place = -1;
    }
    placeOf.set(sample, place);
    return place;
  };
  const presets = bank.presets.map((preset): SoundFontPreset => {
    const lost = new Map<string, number>();
    const lose = (what: string) => lost.set(what, (lost.get(what) ?? 0) + 1);
    const zones: SoundFontPreset['zones'] = [];
    for (const presetZone of preset.zones) {
      for (const instrumentZone of presetZone.instrument.zones) {
        const sample = samplePlace(instrumentZone.sample);
        if (sample < 0) {
          lose(`a zone whose sample “${instrumentZone.sample.name}” is empty or unreadable`);
          continue;
        }
        const zone = zoneOf(
          preset.globalZone,
          presetZone,
          presetZone.instrument.globalZone,
          instrumentZone,
          instrumentZone.sample,
          samples[sample].audio.data.length,
          lose,
        );
        if (zone) zones.push({ sample, zone });
      }
    }
    return {
      name: preset.name.trim() || 'unnamed',
      bank: preset.bankMSB,
      program: preset.program,
      zones,
      notCarried: [...lost].map(([what, count]) => ({ what, count })),
    };
  });
  return { name: String(bank.soundBankInfo.name ?? '').trim(), presets, samples };
}

interface SampleHeader {
  originalKey: number;
  pitchCorrection: number;
  loopStart: number;
  loopEnd: number;
  sampleRate: number;
}

function zoneOf(
  presetGlobal: AnyZone,
  presetZone: AnyZone,
  instrumentGlobal: AnyZone,
  instrumentZone: AnyZone,
  sample: SampleHeader,
  frames: number,
  lose: (what: string) => void,
): Zone | undefined {
  const find = (zone: AnyZone, type: number) => zone.generators.find((generator) => generator.type === type)?.value;
  const value = (type: number): number => {
    const own = find(instrumentZone, type) ?? find(instrumentGlobal, type) ?? DEFAULTS[type] ?? 0;
    return INSTRUMENT_ONLY.has(type) ? own : own + (find(presetZone, type) ?? find(presetGlobal, type) ?? 0);
  };
  const rangeOf = (name: 'keyRange' | 'velRange') => {
    const said = (zone: AnyZone, global: AnyZone) =>
      zone[name].min >= 0 ? zone[name] : global[name].min >= 0 ? global[name] : { min: 0, max: 127 };
    const a = said(presetZone, presetGlobal);
    const b = said(instrumentZone, instrumentGlobal);
    return { low: Math.max(a.min, b.min), high: Math.min(a.max, b.max, 127) };
  };
  const keys = rangeOf('keyRange');
  const velocities = rangeOf('velRange');
  velocities.low = Math.max(1, velocities.low);
  if (keys.low > keys.high || velocities.low > velocities.high) return undefined;
  for (const [type, what] of Object.entries(OTHERS))
    if (value(Number(type)) !== (DEFAULTS[Number(type)] ?? 0)) lose(what);
  const zones = [presetGlobal, presetZone, instrumentGlobal, instrumentZone];
  // Those that say how velocity moves level, and that it leaves the filter alone, have a meaning here.
  let byVelocity: number | undefined;
  for (const modulator of zones.flatMap((zone) => zone.modulators)) {
    const source = modulator.primarySource.toSourceEnum();
    const plain = modulator.secondarySource.toSourceEnum() === 0;
    if (
      plain &&
      source === VELOCITY_CONCAVE &&
      modulator.destination === G.attenuation &&
      modulator.transformAmount >= 0 &&
      modulator.transformAmount <= ATTENUATION_BY_VELOCITY
    )
      byVelocity = modulator.transformAmount;
    else if (!(
      plain &&
      source === VELOCITY_LINEAR &&
      modulator.destination === G.cutoff &&
      modulator.transformAmount === 0
    ))
      lose('modulators');
  }

  const params: { -readonly [K in ZoneParameterId]?: number } = {};
  const set = (id: ZoneParameterId, x: number) => {
    const { low, high, default: rest } = LAYER_PARAMETERS[id];
    const held = Math.min(high, Math.max(low, x));
    if (held !== rest) params[id] = held;
  };
  if (byVelocity !== undefined) set('velocityToLevel', (100 * byVelocity) / ATTENUATION_BY_VELOCITY);
  for (const id of ['delay', 'attack', 'hold', 'decay', 'release'] as const) {
    const seconds = secondsOfTimecents(value(G[id]));
    // −12000 timecents, about a millisecond, means none for delay and hold.
    set(id, (id === 'delay' || id === 'hold') && value(G[id]) <= -12000 ? 0 : seconds);
  }
  // Sustain in centibels below full level; 1000 and more is silence.
  const sustain = Math.max(0, value(G.sustain)) / 10;
  set('sustain', sustain >= 100 ? -60 : -sustain);
  const cutoff = value(G.cutoff);
  if (cutoff < 13500) {
    set('cutoff', hzOfAbsoluteCents(Math.max(1500, cutoff)));
    set('resonance', Math.SQRT1_2 * 10 ** (Math.max(0, Math.min(960, value(G.resonance))) / 200));
  }
  const overriding = value(G.root);
  const root = overriding >= 0 && overriding <= 127 ? overriding : sample.originalKey <= 127 ? sample.originalKey : 60;
  const tune = value(G.coarseTune) * 100 + value(G.fineTune) + sample.pitchCorrection;
  const semitones = Math.abs(tune) > 1200 ? Math.trunc(tune / 100) : 0;
  const held = Math.max(0, Math.min(127, root - semitones));
  const start = Math.max(0, Math.min(frames - 1, value(G.startOffset) + 32768 * value(G.startCoarse)));
  const end = Math.max(start + 1, Math.min(frames, frames + value(G.endOffset) + 32768 * value(G.endCoarse)));
  const mode = value(G.sampleModes) & 3;
  const loop = {
    start: Math.max(0, sample.loopStart + value(G.loopStartOffset) + 32768 * value(G.loopStartCoarse)),
    end: Math.min(end, sample.loopEnd + value(G.loopEndOffset) + 32768 * value(G.loopEndCoarse)),
    crossfade: 0,
    until: mode === 3 ? ('release' as const) : ('end' as const),
  };
  if ((mode === 1 || mode === 3) && loop.end <= loop.start) lose('a loop outside its sample');
  const exclusive = value(G.exclusiveClass);
  return {
    ...newZone('', held),
    tune: Math.max(-1200, Math.min(1200, tune - (root - held) * 100)),
    pitchPerKey: Math.max(-1200, Math.min(1200, value(G.scaleTuning))),
    // Attenuation in centibels as the specification has it; pan in tenths of a percent of half the width.
    gain: Math.max(-96, -value(G.attenuation) / 10) || 0,
    pan: Math.max(-500, Math.min(500, value(G.pan))) / 500,
    key: { ...keys, fadeIn: 0, fadeOut: 0, shape: 'sine' },
    velocity: { ...velocities, fadeIn: 0, fadeOut: 0, shape: 'sine' },
    start,
    end: end < frames ? end : null,
    loop: (mode === 1 || mode === 3) && loop.end > loop.start ? loop : null,
    choke: exclusive > 0 ? { group: exclusive, by: exclusive, fade: 'fast' } : null,
    params,
  };
}
