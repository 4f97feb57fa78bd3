import type { Audio } from '../../src/core/dsp/sample';
import { prepare } from '../../src/core/formats/prepare';
import { writeWav } from '../../src/core/formats/wav';
import { markAt, newLayer, newPatch, newRig, newSound, newZone } from '../../src/core/rig/defaults';
import { faultOf } from '../../src/core/rig/read';
import type { Layer, Patch, Rig, Sound, Zone } from '../../src/core/rig/schema';
import { checkPatch } from '../../src/core/check/index';
import { listen, measuredFrom } from '../../src/core/check/listen';
import type { Prepared } from '../../src/core/dsp/prepared';
import type { SampleRequest } from '../../src/core/engine/program/program';
import type { Heard, TakeHeard } from '../../src/core/check/heard';

/** Faults are planted in recordings and in how they are laid out; the engine plays, and the rules find them. */

export const RATE = 48000;
export const audios = new Map<string, Audio>();
/** A recording of `seconds`; `at` gives its samples by seconds. */
export function record(id: string, at: (t: number, n: number) => number, seconds = 0.8, rate = RATE): string {
  audios.set(id, {
    rate,
    channels: 1,
    data: Float32Array.from({ length: Math.round(seconds * rate) }, (_, n) => at(n / rate, n)),
  });
  return id;
}
export const tone =
  (hz: number, level = 0.25) =>
  (t: number) =>
    level * Math.sin(2 * Math.PI * hz * t);
export const hzOf = (key: number, cents = 0) => 440 * 2 ** ((key - 69 + cents / 100) / 12);

export const over = (sampleId: string, root: number, low: number, high: number, more: Partial<Zone> = {}): Zone => ({
  ...newZone(sampleId, root),
  key: { low, high, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  ...more,
});
export const velocities = (low: number, high: number): Zone['velocity'] => ({
  low,
  high,
  fadeIn: 0,
  fadeOut: 0,
  shape: 'sine',
});
export const layerOf = (id: string, soundId: string, more: Partial<Layer> = {}): Layer => ({
  ...newLayer(id, id, soundId, markAt(0)),
  ...more,
});
export const withParams = (layer: Layer, params: Layer['params']): Layer => ({ ...layer, params });
export const rigOf = (patch: Partial<Patch>, sounds: readonly Sound[]): Rig => {
  const rig = newRig('r', 'R');
  const ids = new Set(sounds.flatMap(({ zones }) => zones.map(({ sampleId }) => sampleId)));
  return {
    ...rig,
    samples: [...ids].map((id) => {
      const audio = audios.get(id)!;
      return {
        id,
        name: `${id}.wav`,
        rate: audio.rate,
        channels: audio.channels,
        frames: audio.data.length / audio.channels,
      };
    }),
    sounds: [...sounds],
    patches: [{ ...newPatch('p', 'P'), ...patch }],
    controllers: { ...rig.controllers, keyLow: 48, keyHigh: 72 },
  };
};
/** One layer that plays one sound of these zones. */
export const simple = (zones: readonly Zone[], params: Layer['params'] = { velocityToLevel: 0 }): Rig =>
  rigOf({ layers: [withParams(layerOf('a', 's'), params)] }, [newSound('s', 'S', [...zones])]);

export const made = new Map<string, Prepared>();
export function ready(request: SampleRequest): Prepared {
  if (!made.has(request.key))
    made.set(
      request.key,
      prepare(
        request,
        audios.has(request.sampleId) ? writeWav(audios.get(request.sampleId)!, { encoding: 'float32' }) : undefined,
      ),
    );
  return made.get(request.key)!;
}
/** The take costs most of the time: it is only played where a rule is about it. */
export const TAKE = {
  seconds: 0.6,
  events: [{ at: 0, event: { type: 'noteOn' as const, channel: 1, key: 60, velocity: 100 } }],
};
export const known = new Map<string, Heard>();
/** The same rig is listened to once. */
export function hear(rig: Rig, take: Parameters<typeof listen>[0]['take'] = { seconds: 0, events: [] }): Heard {
  const name = JSON.stringify([rig, take]);
  if (!known.has(name)) known.set(name, listening(rig, take));
  return known.get(name)!;
}
export const listening = (rig: Rig, take: Parameters<typeof listen>[0]['take']): Heard =>
  listen({
    rig,
    patch: rig.patches[0],
    clock: () => performance.now(),
    take,
    ...measuredFrom((id) => audios.get(id)),
    prepared: (request) => ready(request),
  });
export const found = (rig: Rig, rule: string, heard = hear(rig), show?: ReadonlyMap<string, TakeHeard>) =>
  checkPatch(rig, rig.patches[0], { heard, show }).filter((finding) => finding.rule === rule);
/** The first edit of the first finding is taken: the rig stays sound, and what is heard then. */
export function mended(rig: Rig, rule: string, at = 0) {
  const next = found(rig, rule)[0].fixes[at].edit(rig);
  expect(faultOf(next)).toBeUndefined();
  return found(next, rule);
}

export const even = record('even', tone(hzOf(60)));
export const plain = simple([over(even, 60, 48, 72)]);
