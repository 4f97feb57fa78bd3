import type { Audio } from '../dsp/sample';
import type { Prepared } from '../dsp/prepared';
import { compile } from '../engine/compile';
import { Engine } from '../engine/engine';
import { playTake } from '../engine/playTake';
import type { Program, SampleRequest } from '../engine/program';
import { middleOf, thirdsOf } from '../measure/bands';
import { lostInMono, loudnessNow } from '../measure/loudness';
import { loopOf, recordingOf, type Recording } from '../measure/recording';
import { rehearse } from '../measure/rehearse';
import type { Take } from '../music/take';
import { samplesIn, soundsOf } from '../rig/defaults';
import type { Layer, LayerWindow, Patch, Rig } from '../rig/schema';
import { withoutEffects } from '../rig/mix';
import { parseSource, type SourceId } from '../space/source';
import { answers, isPad, transposeOf, zonesAt } from './answers';
import { loopName, type ChordHeard, type FadeHeard, type Heard, type LoopHeard, type MonoHeard, type PairHeard, type StepHeard, type StrikeHeard, type TakeHeard } from './heard';

const RATE = 48000;
const STRIKE_SECONDS = 0.45;
const FADE_SECONDS = 1;
const CHORD_SECONDS = 2;
/** So many steps of a layer along velocities and along keys are listened to at the most, pairs of layers, and points of a fade. */
const MOST_STEPS = 24, MOST_PAIRS = 24, FADE_POINTS = [0.25, 0.5, 0.75];

/** What is listened to, and where its samples come from; what is not there is passed over. `recording` and `loop` measure what has no need of the engine. `clock` gives milliseconds. `told` hears how far it is, 0…1, and ends it by false. */
export interface Listening {
  rig: Rig;
  patch: Patch;
  take: Pick<Take, 'seconds' | 'events'>;
  recording: (sampleId: string, pitched: boolean) => Recording | undefined;
  loop: (sampleId: string, loop: { start: number; end: number; crossfade: number }) => LoopHeard | undefined;
  prepared: (request: SampleRequest) => Prepared | undefined;
  clock: () => number;
  told?: (share: number) => boolean;
}

/** Voices that one strike may take: unison, chords and grains included. */
const STRIKE_VOICES = 32;

/** Ended before it was done. */
export class ListeningEnded extends Error {}

/** Steps of layers as they were, by all that they depend on. */
const remembered = new Map<string, StepHeard[]>();
const MOST_REMEMBERED = 200;

/** Listens to a patch: its recordings, strikes of its layers, what they do together, and its take. */
export function listen(listening: Listening): Heard {
  const { rig, patch, take, clock, told = () => true } = listening;
  const began = clock();
  const goOn = (share: number) => { if (!told(share)) throw new ListeningEnded('listening was ended'); };
  const samples = samplesHeard(listening, (share) => goOn(0.4 * share));
  const loops = loopsHeard(listening);
  const ear = new Ear(listening);
  const layers = patch.layers.filter(({ on, groupId }) => on && (patch.groups.find(({ id }) => id === groupId)?.on ?? true));
  const steps: StepHeard[] = [];
  layers.forEach((layer, n) => {
    // What an edit left as it is was heard before.
    const name = JSON.stringify([layer, patch.groups.find(({ id }) => id === layer.groupId), soundsOf(layer).map((id) => rig.sounds.find((sound) => sound.id === id)), patch.routes, patch.movers, patch.macros, patch.blends, patch.xyPads, rig.controllers.keyLow, rig.controllers.keyHigh, rig.controllers.velocityLow, rig.controllers.velocityHigh]);
    const known = remembered.get(name) ?? stepsOfLayer(ear, rig, patch, layer);
    remembered.delete(name);
    remembered.set(name, known);
    if (remembered.size > MOST_REMEMBERED) remembered.delete(remembered.keys().next().value!);
    steps.push(...known);
    goOn(0.4 + (0.2 * n) / layers.length);
  });
  steps.push(...stepsBetweenLayers(ear, rig, patch, layers), ...splitsBetweenLayers(ear, rig, patch, layers));
  goOn(0.62);
  const fades = [...fadesHeard(ear, rig, patch, layers), ...fadesWithin(ear, rig, patch, layers)];
  goOn(0.7);
  const { pairs, mono } = pairsHeard(ear, rig, patch, layers);
  goOn(0.8);
  const chord = chordHeard(ear, rig, patch, clock);
  goOn(0.85);
  const heardTake = takeHeard(ear, take, clock);
  return { samples, loops, steps, fades, pairs, mono, chord, take: heardTake, strikes: ear.strikes, seconds: (clock() - began) / 1000 };
}

/** Only what the show needs of another patch. */
export function listenToTake(listening: Listening): TakeHeard | null {
  return takeHeard(new Ear(listening), listening.take, listening.clock);
}

/** Where recordings are at hand, decoded: how they are measured. */
export const measuredFrom = (audioOf: (sampleId: string) => Audio | undefined): Pick<Listening, 'recording' | 'loop'> => ({
  recording: (sampleId, pitched) => { const audio = audioOf(sampleId); return audio && recordingOf(audio, pitched); },
  loop: (sampleId, loop) => { const audio = audioOf(sampleId); return audio && loopOf(audio, loop); },
});

/** Sounds of a patch, and what of them is measured by itself: recordings (whether a pitch is asked: grains are played at any) and loops. */
export function toMeasure(rig: Rig, patch: Patch): { recordings: { sampleId: string; pitched: boolean }[]; loops: { sampleId: string; loop: { start: number; end: number; crossfade: number } }[] } {
  const sounds = rig.sounds.filter(({ id }) => patch.layers.some((layer) => soundsOf(layer).includes(id)));
  const pitched = new Set(sounds.filter(({ kind }) => kind === 'multisample').flatMap((sound) => samplesIn(sound)));
  const loops = new Map<string, { sampleId: string; loop: { start: number; end: number; crossfade: number } }>();
  for (const { kind, zones } of sounds) if (kind === 'multisample') for (const { sampleId, loop } of zones) if (loop) loops.set(loopName(sampleId, loop), { sampleId, loop });
  return { recordings: [...new Set(sounds.flatMap((sound) => samplesIn(sound)))].map((sampleId) => ({ sampleId, pitched: pitched.has(sampleId) })), loops: [...loops.values()] };
}

function samplesHeard({ rig, patch, recording }: Listening, goOn: (share: number) => void): Record<string, Recording> {
  const { recordings } = toMeasure(rig, patch);
  const found: Record<string, Recording> = {};
  recordings.forEach(({ sampleId, pitched }, n) => {
    const measured = recording(sampleId, pitched);
    if (measured) found[sampleId] = measured;
    goOn(n / recordings.length);
  });
  return found;
}

function loopsHeard({ rig, patch, loop: measure }: Listening): Record<string, LoopHeard> {
  const found: Record<string, LoopHeard> = {};
  for (const { sampleId, loop } of toMeasure(rig, patch).loops) {
    const measured = measure(sampleId, loop);
    if (measured) found[loopName(sampleId, loop)] = measured;
  }
  return found;
}

/** Plays strikes of layers, without effects unless they are wanted. */
class Ear {
  strikes = 0;
  private readonly made = new Map<Patch, Program>();
  private readonly dried = new Map<Patch, Patch>();

  constructor(private readonly listening: Listening) {}

  /** `rig`: another than that which is listened to, for which nothing is kept. */
  program(patch: Patch = this.listening.patch, rig: Rig = this.listening.rig): Program {
    const own = rig === this.listening.rig;
    const known = own ? this.made.get(patch) : undefined;
    if (known) return known;
    const program = compile(patch, { sounds: rig.sounds, samples: rig.samples, ...rig.controllers, rate: RATE });
    if (own) this.made.set(patch, program);
    return program;
  }

  private dry(patch: Patch): Patch {
    const known = this.dried.get(patch);
    if (known) return known;
    const bare = withoutEffects(patch);
    this.dried.set(patch, bare);
    return bare;
  }

  samples(program: Program): { key: string; sample: Prepared }[] {
    return program.samples.flatMap((request) => { const sample = this.listening.prepared(request); return sample ? [{ key: request.key, sample }] : []; });
  }

  engine(patch?: Patch, maxVoices?: number, rig?: Rig): Engine {
    const engine = new Engine({ rate: RATE, maxVoices });
    const program = this.program(patch, rig);
    for (const { key, sample } of this.samples(program)) engine.addSample(key, sample);
    engine.setProgram(program);
    return engine;
  }

  /** What a strike of some layers sounds like by itself. `set`: where sources stand. Each has an engine of its own, so that nothing depends on strikes before. */
  strike(layerIds: readonly string[], key: number, velocity: number, { seconds = STRIKE_SECONDS, set = new Map(), patch = this.listening.patch, of }: { seconds?: number; set?: ReadonlyMap<SourceId, number>; patch?: Patch; of?: Rig } = {}): Float32Array[] {
    this.strikes++;
    const engine = this.engine(this.dry(patch), STRIKE_VOICES, of);
    engine.handle({ type: 'solo', layerIds });
    const { left, right } = playTake(engine, { seconds, events: [{ at: 0, event: { type: 'noteOn', channel: 1, key, velocity } }] }, 0, set);
    return [left, right];
  }
}

const heardOf = (layerIds: readonly string[], key: number, velocity: number, sides: readonly Float32Array[]): StrikeHeard => {
  const lufs = loudnessNow(sides, RATE);
  return { layerIds, key, velocity, lufs: lufs > -70 ? lufs : null, middleHz: lufs > -70 ? middleOf(thirdsOf([sides[0].map((x, i) => x + sides[1][i])], RATE)) : 0 };
};

/** Sources other than key and velocity where a layer is heard: each of its windows at its middle. */
function openFor(patch: Patch, layers: readonly Layer[]): Map<SourceId, number> {
  const set = new Map<SourceId, number>();
  for (const layer of layers) {
    for (const window of [...layer.windows, ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? [])]) {
      const source = parseSource(window.source);
      if (source && window.source !== 'key' && window.source !== 'velocity' && /^(cc|macro|xy|bend|channelPressure)/.test(window.source) && !set.has(window.source)) set.set(window.source, (window.low + window.fadeIn + window.high - window.fadeOut) / 2);
    }
  }
  return set;
}

const keysOf = ({ controllers: { keyLow, keyHigh } }: Rig): number[] => Array.from({ length: keyHigh - keyLow + 1 }, (_, n) => keyLow + n);

/** Which zones of a layer sound at a key and velocity, as a name; undefined: it does not answer. */
function sounding(rig: Rig, patch: Patch, layer: Layer, key: number, velocity: number): { name: string; soundId: string; zones: number[] } | undefined {
  const found = zonesAt(rig, patch, layer, key, velocity)?.filter(({ sound }) => sound.kind === 'multisample');
  if (!found || found.length === 0) return undefined;
  return { name: found.map(({ sound, at }) => `${sound.id} ${at}`).join(','), soundId: found[0].sound.id, zones: found.map(({ at }) => at) };
}

/** Where other zones of one layer take over, along the velocities of a key and along the keys. */
function stepsOfLayer(ear: Ear, rig: Rig, patch: Patch, layer: Layer): StepHeard[] {
  const { velocityLow, velocityHigh } = rig.controllers;
  const set = openFor(patch, [layer]);
  const ids = [layer.id];
  const known = new Map<string, StrikeHeard>();
  const strike = (key: number, velocity: number) => {
    const name = `${key} ${velocity}`;
    if (!known.has(name)) known.set(name, heardOf(ids, key, velocity, ear.strike(ids, key, velocity, { set })));
    return known.get(name)!;
  };
  // Keys on which the same zones answer the same velocities are alike: one of them, in their middle, stands for all.
  const alike = new Map<string, number[]>();
  for (const key of keysOf(rig)) {
    const names: string[] = [];
    for (let velocity = velocityLow; velocity <= velocityHigh; velocity++) names.push(sounding(rig, patch, layer, key, velocity)?.name ?? '');
    if (names.some(Boolean)) alike.set(names.join('|'), [...(alike.get(names.join('|')) ?? []), key]);
  }
  const places: { along: 'velocity' | 'key'; key: number; velocity: number; toKey: number; toVelocity: number }[] = [];
  const groups = [...alike.values()];
  for (const keys of groups) {
    const key = keys[keys.length >> 1];
    for (let velocity = velocityLow; velocity < velocityHigh; velocity++) {
      const from = sounding(rig, patch, layer, key, velocity);
      const to = sounding(rig, patch, layer, key, velocity + 1);
      if (from && to && from.name !== to.name) places.push({ along: 'velocity', key, velocity, toKey: key, toVelocity: velocity + 1 });
    }
  }
  const alongKeys: typeof places = [];
  if (!isPad(rig, patch, layer)) {
    for (const keys of groups) {
      const key = keys[keys.length - 1];
      const velocity = [96, 64, 112, 32].find((each) => sounding(rig, patch, layer, key, each) && sounding(rig, patch, layer, key + 1, each));
      if (velocity !== undefined && key < rig.controllers.keyHigh && sounding(rig, patch, layer, key, velocity)!.name !== sounding(rig, patch, layer, key + 1, velocity)!.name) alongKeys.push({ along: 'key', key, velocity, toKey: key + 1, toVelocity: velocity });
    }
  }
  const few = <T>(list: readonly T[]): T[] => (list.length <= MOST_STEPS ? [...list] : Array.from({ length: MOST_STEPS }, (_, n) => list[Math.floor((n * list.length) / MOST_STEPS)]));
  return [...few(places), ...few(alongKeys)].map(({ along, key, velocity, toKey, toVelocity }) => {
    const from = sounding(rig, patch, layer, key, velocity)!;
    const to = sounding(rig, patch, layer, toKey, toVelocity)!;
    return { layerIds: ids, along, soft: strike(key, velocity), hard: strike(toKey, toVelocity), from, to };
  });
}

const idsOf = (list: readonly Layer[]): string[] => list.map(({ id }) => id);
/** Whether one set of layers gives way to another: neither goes on in the other. */
const givesWay = (from: readonly Layer[], to: readonly Layer[]): boolean => from.length > 0 && to.length > 0 && !from.every((layer) => to.includes(layer)) && !to.every((layer) => from.includes(layer));
/** At this velocity layers are compared that meet along the keys. */
const SPLIT_VELOCITY = 96;

/** Where one set of layers gives way to another along the keys, as at a split. */
function splitsBetweenLayers(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): StepHeard[] {
  const found: StepHeard[] = [];
  const answering = (key: number) => layers.filter((layer) => !isPad(rig, patch, layer) && answers(rig, patch, layer, key, [SPLIT_VELOCITY]));
  for (let key = rig.controllers.keyLow; key < rig.controllers.keyHigh && found.length < MOST_STEPS; key++) {
    const [low, high] = [answering(key), answering(key + 1)];
    if (!givesWay(low, high)) continue;
    const strike = (list: readonly Layer[], at: number) => heardOf(idsOf(list), at, SPLIT_VELOCITY, ear.strike(idsOf(list), at, SPLIT_VELOCITY, { set: openFor(patch, list) }));
    found.push({ layerIds: [...new Set([...idsOf(low), ...idsOf(high)])], along: 'key', soft: strike(low, key), hard: strike(high, key + 1), from: null, to: null });
  }
  return found;
}

/** Where one set of layers gives way to another along the velocities. */
function stepsBetweenLayers(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): StepHeard[] {
  const { velocityLow, velocityHigh } = rig.controllers;
  const found: StepHeard[] = [];
  const seen = new Set<string>();
  for (const key of keysOf(rig)) {
    for (let velocity = velocityLow; velocity < velocityHigh && found.length < MOST_STEPS; velocity++) {
      const soft = layers.filter((layer) => answers(rig, patch, layer, key, [velocity]));
      const hard = layers.filter((layer) => answers(rig, patch, layer, key, [velocity + 1]));
      if (!givesWay(soft, hard)) continue;
      const name = `${soft.map(({ id }) => id).join()} ${hard.map(({ id }) => id).join()} ${velocity}`;
      if (seen.has(name)) continue;
      seen.add(name);
      const strike = (list: readonly Layer[], v: number) => heardOf(idsOf(list), key, v, ear.strike(idsOf(list), key, v, { set: openFor(patch, list) }));
      found.push({ layerIds: [...new Set([...idsOf(soft), ...idsOf(hard)])], along: 'velocity', soft: strike(soft, velocity), hard: strike(hard, velocity + 1), from: null, to: null });
    }
  }
  return found;
}

/** Layers that fade into each other along a source: `a` goes while `b` comes. */
export function fadesIn(patch: Patch, layers: readonly Layer[]): { a: Layer; b: Layer; source: string; low: number; high: number }[] {
  const windowsOf = (layer: Layer): LayerWindow[] => [...layer.windows, ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? [])];
  return layers.flatMap((a) => layers.flatMap((b) => (a === b ? [] : windowsOf(a).flatMap((out) => windowsOf(b).flatMap((back) => {
    if (out.source !== back.source || out.fadeOut === 0 || back.fadeIn === 0 || (out.fadeIn > 0 && back.fadeOut > 0 && out.low === back.low)) return [];
    const low = Math.max(out.high - out.fadeOut, back.low);
    const high = Math.min(out.high, back.low + back.fadeIn);
    // Fades that meet in less than half of either are no crossfade.
    return high - low >= 0.5 * Math.max(out.fadeOut, back.fadeIn) ? [{ a, b, source: out.source, low, high }] : [];
  })))));
}

function fadesHeard(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): FadeHeard[] {
  return fadesIn(patch, layers).flatMap(({ a, b, source, low, high }): FadeHeard[] => {
    if (source !== 'key' && source !== 'velocity' && !/^(cc|macro|xy)/.test(source)) return [];
    const both = [a, b];
    const unfaded: Patch = { ...patch, layers: patch.layers.map((layer) => (layer !== a && layer !== b ? layer : { ...layer, windows: layer.windows.map((window) => (window.source === source ? { ...window, low: parseSource(source)!.low, high: parseSource(source)!.high, fadeIn: 0, fadeOut: 0 } : window)) })) };
    const open = openFor(patch, both);
    const middle = [60, 55, 65, 50, 70, 45, 75, 40, 80].find((key) => both.every((layer) => answers(rig, unfaded, unfaded.layers.find(({ id }) => id === layer.id)!, key, [96])));
    if (middle === undefined) return [];
    const points = FADE_POINTS.map((t) => {
      const at = source === 'key' || source === 'velocity' ? Math.round(low + t * (high - low)) : low + t * (high - low);
      const share = (at - low) / (high - low);
      const key = source === 'key' ? at : middle;
      const velocity = source === 'velocity' ? at : 96;
      const set = new Map(open);
      if (source !== 'key' && source !== 'velocity') set.set(source as SourceId, at);
      const level = (ids: readonly string[], of: Patch) => loudnessNow(ear.strike(ids, key, velocity, { set, seconds: FADE_SECONDS, patch: of }), RATE, FADE_SECONDS);
      const expected = (1 - share) * level([a.id], unfaded) + share * level([b.id], unfaded);
      return { at, offDb: level([a.id, b.id], patch) - expected };
    }).filter(({ offDb }) => Number.isFinite(offDb));
    return points.length === 0 ? [] : [{ layerIds: [a.id, b.id], source, key: middle, velocity: 96, points }];
  });
}

/** Crossfades of dynamics inside sounds: one of each pair of borders, on a key in the middle of those that have it, held against both zones by themselves. */
function fadesWithin(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): FadeHeard[] {
  const found: FadeHeard[] = [];
  for (const layer of layers) {
    for (const soundId of soundsOf(layer)) {
      const sound = rig.sounds.find(({ id }) => id === soundId);
      if (sound?.kind !== 'multisample') continue;
      const borders = new Map<string, { a: number; b: number; key: number }[]>();
      sound.zones.forEach((out, a) => sound.zones.forEach((back, b) => {
        const low = Math.max(out.velocity.high - out.velocity.fadeOut, back.velocity.low);
        const high = Math.min(out.velocity.high, back.velocity.low + back.velocity.fadeIn);
        const keyLow = Math.max(out.key.low, back.key.low);
        const keyHigh = Math.min(out.key.high, back.key.high);
        if (a === b || out.trigger !== 'attack' || back.trigger !== 'attack' || out.velocity.fadeOut < LEAST_FADE || back.velocity.fadeIn < LEAST_FADE || high - low < LEAST_FADE || keyLow > keyHigh || out.velocity.low >= back.velocity.low) return;
        borders.set(`${low} ${high}`, [...(borders.get(`${low} ${high}`) ?? []), { a, b, key: Math.round((keyLow + keyHigh) / 2) }]);
      }));
      for (const [name, list] of [...borders].slice(0, MOST_BORDERS)) {
        const [low, high] = name.split(' ').map(Number);
        const { a, b, key: played } = list[list.length >> 1];
        const key = played - transposeOf(patch, layer);
        const velocities = FADE_POINTS.map((t) => Math.round(low + t * (high - low)));
        if (key < 0 || key > 127 || !velocities.every((velocity) => answers(rig, patch, layer, key, [velocity]))) continue;
        const alone = (place: number): Rig => ({ ...rig, sounds: rig.sounds.map((each) => (each === sound ? { ...sound, zones: [{ ...sound.zones[place], velocity: { low: 1, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } }] } : each)) });
        const set = openFor(patch, [layer]);
        const level = (velocity: number, of?: Rig) => loudnessNow(ear.strike([layer.id], key, velocity, { set, seconds: FADE_SECONDS, of }), RATE, FADE_SECONDS);
        const [first, second] = [alone(a), alone(b)];
        const points = velocities.map((at) => { const share = (at - low) / (high - low); return { at, offDb: level(at) - ((1 - share) * level(at, first) + share * level(at, second)) }; }).filter(({ offDb }) => Number.isFinite(offDb));
        if (points.length > 0) found.push({ layerIds: [layer.id], within: { soundId, zones: [...new Set(list.flatMap((each) => [each.a, each.b]))] }, source: 'velocity', key, velocity: 96, points });
      }
    }
  }
  return found;
}
/** Fades of fewer velocities are hardly any, and so many borders of a sound are listened to. */
const LEAST_FADE = 3, MOST_BORDERS = 6;

function pairsHeard(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): { pairs: PairHeard[]; mono: MonoHeard[] } {
  const velocities = [100, 70, 120, 40];
  const middleFor = (list: readonly Layer[]): [number, number] | undefined => {
    for (const velocity of velocities) {
      const keys = keysOf(rig).filter((key) => list.every((layer) => answers(rig, patch, layer, key, [velocity])));
      if (keys.length > 0) return [keys[keys.length >> 1], velocity];
    }
    return undefined;
  };
  const mono: MonoHeard[] = [];
  for (const layer of layers) {
    const at = middleFor([layer]);
    if (!at) continue;
    const [left, right] = ear.strike([layer.id], at[0], at[1], { set: openFor(patch, [layer]) });
    const lost = lostInMono(left, right);
    if (lost !== null) mono.push({ layerId: layer.id, key: at[0], velocity: at[1], lostDb: lost });
  }
  const pairs: PairHeard[] = [];
  for (const [n, a] of layers.entries()) {
    for (const b of layers.slice(n + 1)) {
      const at = pairs.length < MOST_PAIRS ? middleFor([a, b]) : undefined;
      if (!at) continue;
      const set = openFor(patch, [a, b]);
      const [x, y] = [a, b].map(({ id }) => { const [left, right] = ear.strike([id], at[0], at[1], { set }); return left.map((value, i) => value + right[i]); });
      let xx = 0, yy = 0, xy = 0;
      for (let i = 0; i < x.length; i++) {
        xx += x[i] ** 2;
        yy += y[i] ** 2;
        xy += x[i] * y[i];
      }
      if (xx > 1e-9 && yy > 1e-9) pairs.push({ layerIds: [a.id, b.id], key: at[0], velocity: at[1], likeness: xy / Math.sqrt(xx * yy), apartDb: Math.abs(10 * Math.log10(xx / yy)) });
    }
  }
  return { pairs, mono };
}

/** Ten keys that a patch answers, spread as two hands are. */
export function worstChord(rig: Rig, patch: Patch): number[] {
  const velocity = [rig.controllers.velocityHigh];
  const answered = keysOf(rig).filter((key) => patch.layers.some((layer) => answers(rig, patch, layer, key, velocity)));
  const wanted = [36, 43, 48, 52, 55, 60, 64, 67, 72, 76];
  const keys: number[] = [];
  for (const key of wanted) {
    const left = answered.filter((each) => !keys.includes(each));
    if (left.length > 0) keys.push(left.reduce((best, each) => (Math.abs(each - key) < Math.abs(best - key) ? each : best)));
  }
  return keys.sort((a, b) => a - b);
}

/** A load that is worth telling is measured again, this often at the most, until two of the lowest agree to this share: what a machine does beside only adds. */
const LOAD_TRIES = 4, LOAD_AGREES = 0.15, LIGHT_LOAD = 0.05;

function chordHeard(ear: Ear, rig: Rig, patch: Patch, clock: () => number): ChordHeard | null {
  const keys = worstChord(rig, patch);
  if (keys.length === 0) return null;
  const events = keys.map((key) => ({ at: 0, event: { type: 'noteOn' as const, channel: 1, key, velocity: rig.controllers.velocityHigh } }));
  const loads: number[] = [];
  let [lowest, voices] = [1, 0];
  const agree = () => loads.length > 1 && loads[1] - loads[0] <= LOAD_AGREES * loads[0];
  do {
    const engine = ear.engine();
    engine.prepareKinds();
    const began = clock();
    playTake(engine, { seconds: CHORD_SECONDS, events }, 0, new Map(), () => { lowest = Math.min(lowest, engine.limiter.lowestGain); });
    loads.push((clock() - began) / 1000 / CHORD_SECONDS);
    loads.sort((a, b) => a - b);
    voices = engine.mostVoices;
  } while (loads[0] > LIGHT_LOAD && loads.length < LOAD_TRIES && !agree());
  return { keys, limiterDb: 20 * Math.log10(Math.max(1e-6, lowest)), load: loads[0], steady: agree(), voices };
}

function takeHeard(ear: Ear, take: Pick<Take, 'seconds' | 'events'>, clock: () => number): TakeHeard | null {
  const hands = { ...take, events: take.events.filter(({ to }) => !to) };
  if (!hands.events.some(({ event }) => event.type === 'noteOn')) return null;
  const program = ear.program();
  const samples = ear.samples(program);
  const heard = rehearse(program, samples, hands, clock, { program, samples });
  return { lufs: heard.lufs, peakDb: heard.peakDb, limiterDb: heard.limiterDb, monoDb: heard.monoDb, switchMs: heard.switchMs };
}
