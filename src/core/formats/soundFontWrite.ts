import {
  BasicInstrument,
  BasicPreset,
  BasicSample,
  BasicSoundBank,
  Modulator,
  ModulatorSource,
  SpessaLog,
} from 'spessasynth_core';
import { crossfadedLoop } from '../dsp/loopCrossfade';
import type { Audio } from '../dsp/sample';
import { channelsOf } from '../measure/level';
import { type ZoneParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { Sound, Zone } from '../rig/schema';
import type { NotCarried } from './sfzRead';

SpessaLog.setLogLevel(false, false, false);

/** Generators of the SoundFont 2.04 specification, by their numbers (section 8.1.2). */
const G = {
  startOffset: 0,
  endOffset: 1,
  loopStart: 2,
  loopEnd: 3,
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
  coarseTune: 51,
  fineTune: 52,
  sampleModes: 54,
  scaleTuning: 56,
  exclusiveClass: 57,
  root: 58,
  loopStartCoarse: 45,
  loopEndCoarse: 50,
} as const;
/**
 * Attenuation by velocity that every SoundFont has by itself: 960 cB, concave, negative (section 8.4.1). At 100 % it is
 * what layers do here: (v/127)².
 */
export const ATTENUATION_BY_VELOCITY = 960;
/** Velocity as a modulator's source, unipolar and negative: concave (section 8.4.1) and linear (8.4.2). */
export const VELOCITY_CONCAVE = 0x0502,
  VELOCITY_LINEAR = 0x0102;
const MONO = 1,
  LEFT = 4;
const LONGEST_NAME = 19;

export interface SoundFontOut {
  bytes: Uint8Array;
  notCarried: NotCarried[];
}

/** Absolute time in timecents (section 9.1.6: 1200·log2 s), from about a millisecond on. */
export const timecentsOf = (seconds: number): number =>
  Math.max(-12000, Math.min(8000, Math.round(1200 * Math.log2(Math.max(1e-6, seconds)))));
/** Hertz in absolute cents (8.176 Hz is 0). */
export const absoluteCentsOf = (hz: number): number =>
  Math.max(1500, Math.min(13500, Math.round(1200 * Math.log2(hz / 8.176))));

/**
 * Sounds as presets of a SoundFont 2 file, in 16 bits. What the format has no words for is listed; loops with a
 * crossfade and reversed recordings are written into the samples. Throws an Error for sounds that are
 * not made of samples: they can be bounced first.
 */
export function writeSoundFont(
  name: string,
  sounds: readonly Sound[],
  audioOf: (sampleId: string) => Audio,
  nameOf: (sampleId: string) => string,
): SoundFontOut {
  const odd = sounds.find(({ kind }) => kind !== 'multisample');
  if (odd) throw new Error(`“${odd.name}” is made by the engine and has no samples to write; bounce it first`);
  const bank = new BasicSoundBank('sf2');
  Object.assign(bank.soundBankInfo, {
    name: name.slice(0, 250) || 'Wavicle',
    version: { major: 2, minor: 4 },
    soundEngine: 'Wavicle',
    software: 'Wavicle',
    creationDate: new Date(Date.UTC(2020, 0, 1)),
    comment: '',
  });
  const lost = new Map<string, number>();
  const lose = (what: string) => lost.set(what, (lost.get(what) ?? 0) + 1);
  const names = new Set<string>();
  const free = (wanted: string): string => {
    const plain =
      wanted
        .normalize('NFKD')
        .replace(/[^\x20-\x7e]/g, '')
        .replace(/\.\w{3,4}$/, '')
        .trim() || 'sample';
    let out = plain.slice(0, LONGEST_NAME);
    for (let n = 2; names.has(out); n++) out = `${plain.slice(0, LONGEST_NAME - 1 - String(n).length)}_${n}`;
    names.add(out);
    return out;
  };
  const made = new Map<string, BasicSample[]>();
  /** One sample for each side; what cannot be said in generators is written into it. */
  const samplesFor = (zone: Zone): BasicSample[] => {
    const fades =
      zone.loop && zone.loop.crossfade > 0 ? `${zone.loop.start} ${zone.loop.end} ${zone.loop.crossfade}` : '';
    const key = `${zone.sampleId} ${zone.reverse} ${fades}`;
    const known = made.get(key);
    if (known) return known;
    const audio = audioOf(zone.sampleId);
    const data = zone.loop && fades ? crossfadedLoop(audio.data, audio.channels, zone.loop) : audio.data;
    const frames = audio.data.length / audio.channels;
    const sides = channelsOf({ ...audio, data }).map((side) => {
      const padded = new Float32Array(frames);
      padded.set(side.subarray(0, Math.min(frames, side.length)));
      if (side.length < frames) padded.set(channelsOf(audio)[0].subarray(side.length), side.length);
      return zone.reverse ? padded.reverse() : padded;
    });
    const wanted = free(nameOf(zone.sampleId));
    const list = sides.map((side, n) => {
      const sample = new BasicSample(
        sides.length === 1 ? wanted : `${wanted.slice(0, LONGEST_NAME - 1)}${n === 0 ? 'L' : 'R'}`,
        Math.round(audio.rate),
        60,
        0,
        MONO,
        0,
        0,
      );
      sample.setAudioData(side, Math.round(audio.rate));
      return sample;
    });
    // The library links back by itself.
    if (list.length === 2) list[0].setLinkedSample(list[1], LEFT);
    bank.addSamples(...list);
    made.set(key, list);
    return list;
  };
  sounds.forEach((sound, program) => {
    const instrument = new BasicInstrument();
    instrument.name = free(sound.name);
    bank.addInstruments(instrument);
    // Attenuation only turns down: the loudest zone is at 0.
    const loudest = Math.max(0, ...sound.zones.map(({ gain }) => gain));
    if (loudest > 0) lose(`the level of “${sound.name}”: all of it is ${Math.round(loudest * 10) / 10} dB softer`);
    for (const zone of sound.zones) {
      const skipped =
        zone.trigger === 'release'
          ? 'a release trigger (left out)'
          : zone.alternate !== null &&
              sound.zones.some(
                (other) =>
                  other !== zone &&
                  other.alternate !== null &&
                  other.alternate < zone.alternate! &&
                  other.key.low <= zone.key.high &&
                  other.key.high >= zone.key.low &&
                  other.velocity.low <= zone.velocity.high &&
                  other.velocity.high >= zone.velocity.low,
              )
            ? 'alternates (the first of each round stays)'
            : undefined;
      if (skipped) {
        lose(skipped);
        continue;
      }
      writeZone(instrument, sound, zone, samplesFor(zone), loudest, lose);
    }
    const preset = new BasicPreset(bank);
    preset.name = instrument.name;
    preset.program = program % 128;
    preset.bankMSB = Math.floor(program / 128);
    preset.createZone(instrument);
    bank.addPresets(preset);
  });
  return { bytes: new Uint8Array(bank.writeSF2()), notCarried: [...lost].map(([what, count]) => ({ what, count })) };
}

function writeZone(
  instrument: BasicInstrument,
  sound: Sound,
  zone: Zone,
  samples: readonly BasicSample[],
  loudest: number,
  lose: (what: string) => void,
): void {
  const value = (id: ZoneParameterId): number => zone.params[id] ?? sound.params[id] ?? LAYER_PARAMETERS[id].default;
  if (zone.key.fadeIn + zone.key.fadeOut + zone.velocity.fadeIn + zone.velocity.fadeOut > 0)
    lose('fades of keys or velocities');
  if (zone.windows.length > 0) lose('windows on further sources');
  if (zone.playback === 'full-length') lose('full-length playback');
  if (zone.fadeIn > 0 || zone.fadeOut > 0) lose('fades at the ends of a zone');
  if (zone.pitchPerKey < 0) lose('a pitch that falls with the keys');
  if (zone.choke && zone.choke.group !== zone.choke.by) lose('choke groups that end others than themselves');
  for (const id of ['startLevel', 'lowCut', 'keyTrack', 'velocityTrack', 'bendRange'] as const)
    if (value(id) !== LAYER_PARAMETERS[id].default) lose(LAYER_PARAMETERS[id].label);
  const frames = samples[0].getAudioData().length;
  const [start, end] = zone.reverse
    ? [frames - (zone.end ?? frames), frames - zone.start]
    : [zone.start, zone.end ?? frames];
  samples.forEach((sample, side) => {
    const made = instrument.createZone(sample);
    made.keyRange = { min: Math.ceil(zone.key.low), max: Math.floor(zone.key.high) };
    made.velRange = { min: Math.ceil(zone.velocity.low), max: Math.floor(zone.velocity.high) };
    const put = (type: number, x: number, rest = 0) => {
      if (x !== rest) made.setGenerator(type as never, x);
    };
    const address = (fine: number, coarse: number, x: number) => {
      const whole = Math.trunc(x / 32768);
      put(fine, x - whole * 32768);
      put(coarse, whole);
    };
    address(G.startOffset, G.startCoarse, start);
    address(G.endOffset, G.endCoarse, end - frames);
    // A sample of both sides keeps them apart by hard pans.
    put(G.pan, samples.length === 2 ? (side === 0 ? -500 : 500) : Math.round(zone.pan * 500));
    put(G.attenuation, Math.round((loudest - Math.max(-96, zone.gain)) * 10));
    made.setGenerator(G.root as never, zone.root);
    const coarse = Math.trunc(zone.tune / 100);
    put(G.coarseTune, coarse);
    put(G.fineTune, Math.round(zone.tune - coarse * 100));
    put(G.scaleTuning, Math.max(0, Math.min(1200, Math.round(zone.pitchPerKey))), 100);
    if (zone.choke && zone.choke.by !== null)
      put(G.exclusiveClass, zone.choke.by === 0 ? 127 : ((zone.choke.by - 1) % 127) + 1);
    if (zone.loop) {
      put(G.sampleModes, zone.loop.until === 'release' ? 3 : 1);
      const { start: from, end: to } = zone.loop;
      if (sample.loopEnd === 0) {
        sample.loopStart = from;
        sample.loopEnd = to;
      }
      address(G.loopStart, G.loopStartCoarse, from - sample.loopStart);
      address(G.loopEnd, G.loopEndCoarse, to - sample.loopEnd);
    }
    if (value('delay') > 0) put(G.delay, timecentsOf(value('delay')), -12000);
    put(G.attack, timecentsOf(value('attack')), -12000);
    if (value('hold') > 0) put(G.hold, timecentsOf(value('hold')), -12000);
    if (value('sustain') < 0) {
      put(G.decay, timecentsOf(value('decay')), -12000);
      put(G.sustain, value('sustain') <= -60 ? 1000 : Math.round(-value('sustain') * 10));
    }
    put(G.release, timecentsOf(value('release')), -12000);
    if (value('cutoff') < LAYER_PARAMETERS.cutoff.high * 0.98) {
      put(G.cutoff, absoluteCentsOf(value('cutoff')), 13500);
      put(G.resonance, Math.max(0, Math.min(960, Math.round(200 * Math.log10(value('resonance') / Math.SQRT1_2)))));
    }
    const share = value('velocityToLevel');
    const modulator = (source: number, destination: number, amount: number) =>
      made.addModulators(
        new Modulator(
          ModulatorSource.fromSourceEnum(source),
          ModulatorSource.fromSourceEnum(0),
          destination as never,
          amount,
          0 as never,
        ),
      );
    if (share < 100) modulator(VELOCITY_CONCAVE, G.attenuation, Math.round((ATTENUATION_BY_VELOCITY * share) / 100));
    // That soft strikes are duller by themselves (section 8.4.2) is none of this sound.
    modulator(VELOCITY_LINEAR, G.cutoff, 0);
  });
}
