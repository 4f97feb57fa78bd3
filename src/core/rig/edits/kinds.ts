import { OTHERS } from '../../sounds/synth/parameters';
import { newSound } from '../defaults';
import { heldName } from '../names';
import { hasZones, type LayerParameterId } from '../parameters';
import { LAYER_PARAMETERS } from '../layerParameters';
import type { Patch, Rig, Sound, Waves } from '../schema';
import { setParam } from './layers';
import { connect } from './moves';

/** Edits of sounds that are not made of samples alone, and of the parts that they have: pure functions. */

/** A new synth at the end: a saw an octave apart from another, softly. */
export const addSynth = (rig: Rig, id: string, name: string): Rig => ({
  ...rig,
  sounds: [...rig.sounds, { ...newSound(id, heldName(name)), kind: 'synth' }],
});

/** The waves of one oscillator. */
export const setWaves = (sound: Sound, oscillator: number, waves: Waves): Sound => ({
  ...sound,
  waves: sound.waves.map((each, n) => (n === oscillator ? waves : each)),
});

/** The shape that is drawn for grains; its heights are held within 0…1. */
export const setShape = (sound: Sound, shape: readonly number[]): Sound => ({
  ...sound,
  shape: shape.map((height) => Math.round(Math.min(1, Math.max(0, height)) * 1000) / 1000),
});

/** Samples are played in grains from now on, or as they are; nothing else of the sound changes. */
export const setKind = (sound: Sound, kind: 'multisample' | 'grains'): Sound =>
  hasZones(sound.kind) ? { ...sound, kind } : sound;

/** A sound that comes in from outside, at the end. */
export const addInput = (rig: Rig, id: string, name: string): Rig => ({
  ...rig,
  sounds: [...rig.sounds, { ...newSound(id, heldName(name)), kind: 'input' }],
});

/** Parts of a synth's layer that can be heard alone or left out. */
export const SYNTH_PARTS = ['osc1', 'osc2', 'osc3', 'sub', 'noise', 'filter1', 'filter2'] as const;
export type SynthPart = (typeof SYNTH_PARTS)[number];
export const levelOfPart = (part: SynthPart): LayerParameterId | undefined =>
  part.startsWith('osc')
    ? (`${part}Level` as LayerParameterId)
    : part === 'sub'
      ? 'subLevel'
      : part === 'noise'
        ? 'noiseLevel'
        : undefined;

/**
 * What may be left out of a patch for hearing it taken apart: parts of a layer's synth (`layer.ID.osc1`), movers
 * (`lfo.1`), routes (`route.ID`).
 */
export function patchWithout(patch: Patch, parts: readonly string[]): Patch {
  return parts.reduce((left, part): Patch => {
    const [kind, id, what] = part.split('.');
    if (kind === 'route')
      return { ...left, routes: left.routes.map((route) => (route.id === id ? { ...route, on: false } : route)) };
    if (kind !== 'layer')
      return {
        ...left,
        movers: left.movers.map((mover) =>
          `${mover.kind}.${mover.number}` === part ? { ...mover, on: false } : mover,
        ),
      };
    if (what === 'filter1' || what === 'filter2')
      return setParam(left, id, what === 'filter1' ? 'filterKind' : 'filter2Kind', 0);
    const level = levelOfPart(what as SynthPart);
    if (!level) return left;
    const silent = setParam(left, id, level, LAYER_PARAMETERS[level].low);
    return { ...silent, routes: silent.routes.filter(({ target }) => target !== `layer.${id}.${level}`) };
  }, patch);
}

/** Which of the parts are left out so that only one kind of them is heard. */
export const allBut = (layerId: string, part: SynthPart): string[] =>
  SYNTH_PARTS.filter((each) => each !== part && levelOfPart(each)).map((each) => `layer.${layerId}.${each}`);

/** The oscillator, from 0, that modulates another one as its parameter says. */
export const sourceOf = (oscillator: number, from: number): number => OTHERS[oscillator][from];

/**
 * What an expressive surface spreads over grains: by part, the source and what it moves, from where to how far, in per
 * cent of the range.
 */
export interface SurfaceSetup {
  low: number | null;
  high: number | null;
  force: 'velocity' | 'pressure';
}
export const SURFACE_PARTS = ['keys', 'density', 'length', 'scatter', 'pitch'] as const;
export type SurfacePart = (typeof SURFACE_PARTS)[number];

const SURFACE: Readonly<
  Record<
    Exclude<SurfacePart, 'keys'>,
    { source: 'force' | 'slide'; targets: readonly (readonly [LayerParameterId, number])[] }
  >
> = {
  density: {
    source: 'force',
    targets: [
      ['grainOverlap', 0.42],
      ['grainDensity', 0.42],
    ],
  },
  length: { source: 'slide', targets: [['grainLength', 0.4]] },
  scatter: {
    source: 'force',
    targets: [
      ['grainPositionScatter', 0.12],
      ['grainPanScatter', 0.6],
    ],
  },
  pitch: { source: 'slide', targets: [['grainPitchScatter', 0.03]] },
};
const sourceFor = (of: 'force' | 'slide', { force }: SurfaceSetup): string => (of === 'slide' ? 'slide' : force);

/** The routes of one part, as they stand in a patch: of any source for the force. */
export function surfaceRoutes(patch: Patch, layerId: string, part: SurfacePart): Patch['routes'] {
  const isOf = (target: string, id: string) => target === `layer.${layerId}.${id}`;
  if (part === 'keys')
    return patch.routes.filter((route) => typeof route.source !== 'string' && isOf(route.target, 'grainPosition'));
  const { source, targets } = SURFACE[part];
  return patch.routes.filter(
    (route) =>
      (source === 'slide' ? route.source === 'slide' : route.source === 'velocity' || route.source === 'pressure') &&
      targets.some(([id]) => isOf(route.target, id)),
  );
}

/** Takes a part off the surface. */
export const takeOffSurface = (patch: Patch, layerId: string, part: SurfacePart): Patch => {
  const gone = new Set(surfaceRoutes(patch, layerId, part));
  return { ...patch, routes: patch.routes.filter((route) => !gone.has(route)) };
};

/**
 * Puts a part on it: the keys span the sample, force and slide are spread over the rest. What was there of it is
 * replaced.
 */
export function putOnSurface(patch: Patch, layerId: string, part: SurfacePart, setup: SurfaceSetup): Patch {
  const cleared = takeOffSurface(patch, layerId, part);
  if (part === 'keys') {
    const [low, high] = [setup.low ?? 'keyLow', setup.high ?? 'keyHigh'];
    return connect(cleared, { formula: `(key - ${low}) / (${high} - ${low})` }, `layer.${layerId}.grainPosition`, 1);
  }
  const { source, targets } = SURFACE[part];
  return targets.reduce(
    (left, [id, depth]) => connect(left, sourceFor(source, setup), `layer.${layerId}.${id}`, depth),
    cleared,
  );
}

/** Everything at once: grains stand still where the key has them, at the pitch of the recording. */
export function spreadOverSurface(patch: Patch, layerId: string, setup: SurfaceSetup): Patch {
  const still = (
    [
      ['grainFreeze', 1],
      ['grainFollow', 0],
      ['grainPosition', 0],
      ['grainOverlap', 1.2],
      ['grainLength', 0.05],
    ] as const
  ).reduce((left, [id, value]) => setParam(left, layerId, id, value), patch);
  return SURFACE_PARTS.reduce((left, part) => putOnSurface(left, layerId, part, setup), still);
}
