import type { Audio } from '../dsp/sample';
import { playTake } from '../engine/offline/playTake';
import { middleOf, thirdsOf } from '../measure/bands';
import { lostInMono, loudnessNow } from '../measure/loudness';
import { loopOf, recordingOf, type Recording } from '../measure/recording';
import { rehearse } from '../measure/rehearse';
import type { Take } from '../music/take';
import { samplesIn, soundsOf } from '../rig/defaults';
import type { Layer, Patch, Rig } from '../rig/schema';
import { answers, isPad, zonesAt } from './answers';
import {
  loopName,
  type ChordHeard,
  type Heard,
  type LoopHeard,
  type MonoHeard,
  type PairHeard,
  type StepHeard,
  type StrikeHeard,
  type TakeHeard,
} from './heard';
import { Ear, openFor, RATE, type Listening } from './ear';
import { fadesHeard, fadesWithin, morphsHeard } from './fades';

const CHORD_SECONDS = 2;
/**
 * So many steps of a layer along velocities and along keys are listened to at the most, pairs of layers, and points of
 * a fade.
 */
const MOST_STEPS = 24,
  MOST_PAIRS = 24;

/** Ended before it was done. */
export class ListeningEnded extends Error {}

/** Steps of layers as they were, by all that they depend on. */
const remembered = new Map<string, StepHeard[]>();
const MOST_REMEMBERED = 200;

/** Listens to a patch: its recordings, strikes of its layers, what they do together, and its take. */
export function listen(listening: Listening): Heard {
  const { rig, patch, take, clock, told = () => true } = listening;
  const began = clock();
  const goOn = (share: number) => {
    if (!told(share)) throw new ListeningEnded('listening was ended');
  };
  const samples = samplesHeard(listening, (share) => goOn(0.4 * share));
  const loops = loopsHeard(listening);
  const ear = new Ear(listening);
  const layers = patch.layers.filter(
    ({ on, groupId }) => on && (patch.groups.find(({ id }) => id === groupId)?.on ?? true),
  );
  const steps: StepHeard[] = [];
  layers.forEach((layer, n) => {
    // What an edit left as it is was heard before.
    const name = JSON.stringify([
      layer,
      patch.groups.find(({ id }) => id === layer.groupId),
      soundsOf(layer).map((id) => rig.sounds.find((sound) => sound.id === id)),
      patch.routes,
      patch.movers,
      patch.macros,
      patch.blends,
      patch.xyPads,
      rig.controllers.keyLow,
      rig.controllers.keyHigh,
      rig.controllers.velocityLow,
      rig.controllers.velocityHigh,
    ]);
    const known = remembered.get(name) ?? stepsOfLayer(ear, rig, patch, layer);
    remembered.delete(name);
    remembered.set(name, known);
    if (remembered.size > MOST_REMEMBERED) remembered.delete(remembered.keys().next().value!);
    steps.push(...known);
    goOn(0.4 + (0.2 * n) / layers.length);
  });
  steps.push(...stepsBetweenLayers(ear, rig, patch, layers), ...splitsBetweenLayers(ear, rig, patch, layers));
  goOn(0.62);
  const fades = [
    ...fadesHeard(ear, rig, patch, layers),
    ...fadesWithin(ear, rig, patch, layers),
    ...morphsHeard(ear, rig, patch),
  ];
  goOn(0.7);
  const { pairs, mono } = pairsHeard(ear, rig, patch, layers);
  goOn(0.8);
  const chord = chordHeard(ear, rig, patch, clock);
  goOn(0.85);
  const heardTake = takeHeard(ear, take, clock);
  return {
    samples,
    loops,
    steps,
    fades,
    pairs,
    mono,
    chord,
    take: heardTake,
    strikes: ear.strikes,
    seconds: (clock() - began) / 1000,
  };
}

/** Only what the show needs of another patch. */
export function listenToTake(listening: Listening): TakeHeard | null {
  return takeHeard(new Ear(listening), listening.take, listening.clock);
}

/** Where recordings are at hand, decoded: how they are measured. */
export const measuredFrom = (
  audioOf: (sampleId: string) => Audio | undefined,
): Pick<Listening, 'recording' | 'loop'> => ({
  recording: (sampleId, pitched) => {
    const audio = audioOf(sampleId);
    return audio && recordingOf(audio, pitched);
  },
  loop: (sampleId, loop) => {
    const audio = audioOf(sampleId);
    return audio && loopOf(audio, loop);
  },
});

/**
 * Sounds of a patch, and what of them is measured by itself: recordings (whether a pitch is asked: grains are played at
 * any) and loops.
 */
export function toMeasure(
  rig: Rig,
  patch: Patch,
): {
  recordings: { sampleId: string; pitched: boolean }[];
  loops: { sampleId: string; loop: { start: number; end: number; crossfade: number } }[];
} {
  const sounds = rig.sounds.filter(({ id }) => patch.layers.some((layer) => soundsOf(layer).includes(id)));
  const pitched = new Set(sounds.filter(({ kind }) => kind === 'multisample').flatMap((sound) => samplesIn(sound)));
  const loops = new Map<string, { sampleId: string; loop: { start: number; end: number; crossfade: number } }>();
  for (const { kind, zones } of sounds)
    if (kind === 'multisample')
      for (const { sampleId, loop } of zones) if (loop) loops.set(loopName(sampleId, loop), { sampleId, loop });
  return {
    recordings: [...new Set(sounds.flatMap((sound) => samplesIn(sound)))].map((sampleId) => ({
      sampleId,
      pitched: pitched.has(sampleId),
    })),
    loops: [...loops.values()],
  };
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

const heardOf = (
  layerIds: readonly string[],
  key: number,
  velocity: number,
  sides: readonly Float32Array[],
): StrikeHeard => {
  const lufs = loudnessNow(sides, RATE);
  return {
    layerIds,
    key,
    velocity,
    lufs: lufs > -70 ? lufs : null,
    middleHz: lufs > -70 ? middleOf(thirdsOf([sides[0].map((x, i) => x + sides[1][i])], RATE)) : 0,
  };
};

const keysOf = ({ controllers: { keyLow, keyHigh } }: Rig): number[] =>
  Array.from({ length: keyHigh - keyLow + 1 }, (_, n) => keyLow + n);

/** Which zones of a layer sound at a key and velocity, as a name; undefined: it does not answer. */
function sounding(
  rig: Rig,
  patch: Patch,
  layer: Layer,
  key: number,
  velocity: number,
): { name: string; soundId: string; zones: number[] } | undefined {
  const found = zonesAt(rig, patch, layer, key, velocity)?.filter(({ sound }) => sound.kind === 'multisample');
  if (!found || found.length === 0) return undefined;
  return {
    name: found.map(({ sound, at }) => `${sound.id} ${at}`).join(','),
    soundId: found[0].sound.id,
    zones: found.map(({ at }) => at),
  };
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
    for (let velocity = velocityLow; velocity <= velocityHigh; velocity++)
      names.push(sounding(rig, patch, layer, key, velocity)?.name ?? '');
    if (names.some(Boolean)) alike.set(names.join('|'), [...(alike.get(names.join('|')) ?? []), key]);
  }
  const places: { along: 'velocity' | 'key'; key: number; velocity: number; toKey: number; toVelocity: number }[] = [];
  const groups = [...alike.values()];
  for (const keys of groups) {
    const key = keys[keys.length >> 1];
    for (let velocity = velocityLow; velocity < velocityHigh; velocity++) {
      const from = sounding(rig, patch, layer, key, velocity);
      const to = sounding(rig, patch, layer, key, velocity + 1);
      if (from && to && from.name !== to.name)
        places.push({ along: 'velocity', key, velocity, toKey: key, toVelocity: velocity + 1 });
    }
  }
  const alongKeys: typeof places = [];
  if (!isPad(rig, patch, layer)) {
    for (const keys of groups) {
      const key = keys[keys.length - 1];
      const velocity = [96, 64, 112, 32].find(
        (each) => sounding(rig, patch, layer, key, each) && sounding(rig, patch, layer, key + 1, each),
      );
      if (
        velocity !== undefined &&
        key < rig.controllers.keyHigh &&
        sounding(rig, patch, layer, key, velocity)!.name !== sounding(rig, patch, layer, key + 1, velocity)!.name
      )
        alongKeys.push({ along: 'key', key, velocity, toKey: key + 1, toVelocity: velocity });
    }
  }
  const few = <T>(list: readonly T[]): T[] =>
    list.length <= MOST_STEPS
      ? [...list]
      : Array.from({ length: MOST_STEPS }, (_, n) => list[Math.floor((n * list.length) / MOST_STEPS)]);
  return [...few(places), ...few(alongKeys)].map(({ along, key, velocity, toKey, toVelocity }) => {
    const from = sounding(rig, patch, layer, key, velocity)!;
    const to = sounding(rig, patch, layer, toKey, toVelocity)!;
    return { layerIds: ids, along, soft: strike(key, velocity), hard: strike(toKey, toVelocity), from, to };
  });
}

const idsOf = (list: readonly Layer[]): string[] => list.map(({ id }) => id);
/** Whether one set of layers gives way to another: neither goes on in the other. */
const givesWay = (from: readonly Layer[], to: readonly Layer[]): boolean =>
  from.length > 0 &&
  to.length > 0 &&
  !from.every((layer) => to.includes(layer)) &&
  !to.every((layer) => from.includes(layer));
/** At this velocity layers are compared that meet along the keys. */
const SPLIT_VELOCITY = 96;

/** Where one set of layers gives way to another along the keys, as at a split. */
function splitsBetweenLayers(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): StepHeard[] {
  const found: StepHeard[] = [];
  const answering = (key: number) =>
    layers.filter((layer) => !isPad(rig, patch, layer) && answers(rig, patch, layer, key, [SPLIT_VELOCITY]));
  for (let key = rig.controllers.keyLow; key < rig.controllers.keyHigh && found.length < MOST_STEPS; key++) {
    const [low, high] = [answering(key), answering(key + 1)];
    if (!givesWay(low, high)) continue;
    const strike = (list: readonly Layer[], at: number) =>
      heardOf(
        idsOf(list),
        at,
        SPLIT_VELOCITY,
        ear.strike(idsOf(list), at, SPLIT_VELOCITY, { set: openFor(patch, list) }),
      );
    found.push({
      layerIds: [...new Set([...idsOf(low), ...idsOf(high)])],
      along: 'key',
      soft: strike(low, key),
      hard: strike(high, key + 1),
      from: null,
      to: null,
    });
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
      const strike = (list: readonly Layer[], v: number) =>
        heardOf(idsOf(list), key, v, ear.strike(idsOf(list), key, v, { set: openFor(patch, list) }));
      found.push({
        layerIds: [...new Set([...idsOf(soft), ...idsOf(hard)])],
        along: 'velocity',
        soft: strike(soft, velocity),
        hard: strike(hard, velocity + 1),
        from: null,
        to: null,
      });
    }
  }
  return found;
}

function pairsHeard(
  ear: Ear,
  rig: Rig,
  patch: Patch,
  layers: readonly Layer[],
): { pairs: PairHeard[]; mono: MonoHeard[] } {
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
      const [x, y] = [a, b].map(({ id }) => {
        const [left, right] = ear.strike([id], at[0], at[1], { set });
        return left.map((value, i) => value + right[i]);
      });
      let xx = 0,
        yy = 0,
        xy = 0;
      for (let i = 0; i < x.length; i++) {
        xx += x[i] ** 2;
        yy += y[i] ** 2;
        xy += x[i] * y[i];
      }
      if (xx > 1e-9 && yy > 1e-9)
        pairs.push({
          layerIds: [a.id, b.id],
          key: at[0],
          velocity: at[1],
          likeness: xy / Math.sqrt(xx * yy),
          apartDb: Math.abs(10 * Math.log10(xx / yy)),
        });
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
    if (left.length > 0)
      keys.push(left.reduce((best, each) => (Math.abs(each - key) < Math.abs(best - key) ? each : best)));
  }
  return keys.sort((a, b) => a - b);
}

/**
 * A load that is worth telling is measured again, this often at the most, until two of the lowest agree to this share:
 * what a machine does beside only adds.
 */
const LOAD_TRIES = 4,
  LOAD_AGREES = 0.15,
  LIGHT_LOAD = 0.05;

function chordHeard(ear: Ear, rig: Rig, patch: Patch, clock: () => number): ChordHeard | null {
  const keys = worstChord(rig, patch);
  if (keys.length === 0) return null;
  const events = keys.map((key) => ({
    at: 0,
    event: { type: 'noteOn' as const, channel: 1, key, velocity: rig.controllers.velocityHigh },
  }));
  const loads: number[] = [];
  let [lowest, voices] = [1, 0];
  const agree = () => loads.length > 1 && loads[1] - loads[0] <= LOAD_AGREES * loads[0];
  do {
    const engine = ear.engine();
    engine.prepareKinds();
    const began = clock();
    playTake(engine, { seconds: CHORD_SECONDS, events }, 0, new Map(), () => {
      lowest = Math.min(lowest, engine.limiter.lowestGain);
    });
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
  return {
    lufs: heard.lufs,
    peakDb: heard.peakDb,
    limiterDb: heard.limiterDb,
    monoDb: heard.monoDb,
    switchMs: heard.switchMs,
  };
}
