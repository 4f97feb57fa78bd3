import { hasZones, SOUND_KINDS } from '../../../rig/parameters';
import { newZone } from '../../../rig/defaults';
import type { Patch, Sound, Zone } from '../../../rig/schema';
import { rowsPlayed } from '../../../rig/waveRows';
import { SHAPES, TABLE_IDS } from '../../../sounds/synth/tableIds';
import type { CompiledRoute } from '../compiledRoute';
import { ofObject } from '../ofObject';
import {
  OF_GRAINS,
  OF_SAMPLES,
  OF_SYNTH,
  OWN_MOVED,
  OWN_STRIKE,
  wavesKey,
  type OwnRoutes,
  type SampleRequest,
  type SoundSpec,
} from '../program';

/** The number of a sound's kind. */
export const kindOf = (sound: Pick<Sound, 'kind'>): number => SOUND_KINDS.indexOf(sound.kind);

/** A sound as it is compiled: with zones, whatever its kind. */
export type CompiledSound = Sound;

/** The key at which oscillators play a 440. */
const A4_KEY = 69;
const EVERYWHERE: readonly Zone[] = [
  { ...newZone('', A4_KEY), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
];

/** Sounds of which strike table and columns are made: oscillators, and what comes in, answer on every key. */
export const withZones = ofObject((sound: Sound): CompiledSound =>
  hasZones(sound.kind) ? sound : { ...sound, zones: EVERYWHERE as Zone[] },
);

/**
 * What sounds that are not made of samples alone have besides their zones, and the waves that are needed for them: rows
 * that an oscillator of the patch can read.
 */
export function specsOf(
  sounds: readonly CompiledSound[],
  patch: Pick<Patch, 'layers' | 'routes'>,
): { specs: SoundSpec[]; specOf: ReadonlyMap<string, number>; requests: SampleRequest[] } {
  const specs: SoundSpec[] = [];
  const specOf = new Map<string, number>();
  const requests = new Map<string, SampleRequest>();
  const request = (table: string, length: number): string => {
    const waves = { table, length };
    const key = wavesKey(waves);
    requests.set(key, {
      key,
      sampleId: table === SHAPES || TABLE_IDS.includes(table) ? '' : table,
      loop: null,
      reverse: false,
      levels: 1,
      waves,
    });
    return key;
  };
  const wavesOf = (sound: CompiledSound): string[] => {
    const played = rowsPlayed(patch, sound);
    return sound.waves.map(({ table, length }, n) => (played[n] ? request(table, length) : ''));
  };
  for (const sound of sounds) {
    const kind = kindOf(sound);
    if (kind === OF_SAMPLES) continue;
    specOf.set(sound.id, specs.length);
    if (kind === OF_SYNTH) request(SHAPES, 0);
    specs.push({ waves: kind === OF_SYNTH ? wavesOf(sound) : [], drawn: kind === OF_GRAINS ? [...sound.shape] : [] });
  }
  return { specs, specOf, requests: [...requests.values()] };
}

/** By number of the kind: what moves the parameters that it alone has; null for kinds that a layer does not play. */
export function ownRoutesOf(
  kinds: readonly number[],
  routesTo: (parameter: string) => CompiledRoute[],
  isMoved: (route: CompiledRoute) => boolean,
): (OwnRoutes | null)[] {
  return SOUND_KINDS.map((_, kind): OwnRoutes | null => {
    if (kind === OF_SAMPLES || !kinds.includes(kind)) return null;
    const routes = OWN_MOVED[kind].map(routesTo);
    const aside = OWN_MOVED[kind].some((id, place) => routes[place].length > 0 && /(Pan|Spread)$/.test(id));
    return {
      routes,
      strikeRoutes: OWN_STRIKE[kind].map(routesTo),
      movingPlaces: OWN_MOVED[kind].flatMap((_id, place) => (routes[place].some(isMoved) ? [place] : [])),
      aside,
    };
  });
}
