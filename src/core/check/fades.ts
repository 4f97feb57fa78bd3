import { loudnessNow } from '../measure/loudness';
import { soundsOf } from '../rig/defaults';
import type { Layer, LayerWindow, Patch, Rig } from '../rig/schema';
import { parseSource, type SourceId } from '../space/source';
import { answers, transposeOf } from './answers';
import { openFor, RATE, type Ear } from './ear';
import type { FadeHeard } from './heard';
import { morphWays } from './morphs';

const FADE_SECONDS = 1;
const FADE_POINTS = [0.25, 0.5, 0.75];
const idsOf = (list: readonly Layer[]): string[] => list.map(({ id }) => id);

/** Layers that fade into each other along a source: `a` goes while `b` comes. */
export function fadesIn(
  patch: Patch,
  layers: readonly Layer[],
): { a: Layer; b: Layer; source: string; low: number; high: number }[] {
  const windowsOf = (layer: Layer): LayerWindow[] => [
    ...layer.windows,
    ...(patch.groups.find(({ id }) => id === layer.groupId)?.windows ?? []),
  ];
  return layers.flatMap((a) =>
    layers.flatMap((b) =>
      a === b
        ? []
        : windowsOf(a).flatMap((out) =>
            windowsOf(b).flatMap((back) => {
              if (
                out.source !== back.source ||
                out.fadeOut === 0 ||
                back.fadeIn === 0 ||
                (out.fadeIn > 0 && back.fadeOut > 0 && out.low === back.low)
              )
                return [];
              const low = Math.max(out.high - out.fadeOut, back.low);
              const high = Math.min(out.high, back.low + back.fadeIn);
              // Fades that meet in less than half of either are no crossfade.
              return high - low >= 0.5 * Math.max(out.fadeOut, back.fadeIn)
                ? [{ a, b, source: out.source, low, high }]
                : [];
            }),
          ),
    ),
  );
}

export function fadesHeard(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): FadeHeard[] {
  return fadesIn(patch, layers).flatMap(({ a, b, source, low, high }): FadeHeard[] => {
    if (source !== 'key' && source !== 'velocity' && !/^(cc|macro|xy)/.test(source)) return [];
    const both = [a, b];
    const unfaded: Patch = {
      ...patch,
      layers: patch.layers.map((layer) =>
        layer !== a && layer !== b
          ? layer
          : {
              ...layer,
              windows: layer.windows.map((window) =>
                window.source === source
                  ? { ...window, low: parseSource(source)!.low, high: parseSource(source)!.high, fadeIn: 0, fadeOut: 0 }
                  : window,
              ),
            },
      ),
    };
    const open = openFor(patch, both);
    const middle = MIDDLE_KEYS.find((key) =>
      both.every((layer) =>
        answers(
          rig,
          unfaded,
          unfaded.layers.find(({ id }) => id === layer.id)!,
          key,
          [96],
        ),
      ),
    );
    if (middle === undefined) return [];
    const points = FADE_POINTS.map((t) => {
      const at =
        source === 'key' || source === 'velocity' ? Math.round(low + t * (high - low)) : low + t * (high - low);
      const share = (at - low) / (high - low);
      const key = source === 'key' ? at : middle;
      const velocity = source === 'velocity' ? at : 96;
      const set = new Map(open);
      if (source !== 'key' && source !== 'velocity') set.set(source as SourceId, at);
      const level = (ids: readonly string[], of: Patch) =>
        loudnessNow(ear.strike(ids, key, velocity, { set, seconds: FADE_SECONDS, patch: of }), RATE, FADE_SECONDS);
      const expected = (1 - share) * level([a.id], unfaded) + share * level([b.id], unfaded);
      return { at, offDb: level([a.id, b.id], patch) - expected };
    }).filter(({ offDb }) => Number.isFinite(offDb));
    return points.length === 0 ? [] : [{ layerIds: [a.id, b.id], source, key: middle, velocity: 96, points }];
  });
}

/** Ways through pads and blends: what is heard on them against what their ends have unfaded, in proportion. */
export function morphsHeard(ear: Ear, rig: Rig, patch: Patch): FadeHeard[] {
  return morphWays(patch, FADE_POINTS)
    .slice(0, MOST_MORPHS)
    .flatMap(({ name, sources, from, to, points: ways }): FadeHeard[] => {
      const both = [...from, ...to];
      const open = openFor(patch, both);
      const isOn = (windows: readonly LayerWindow[]) => windows.filter(({ source }) => !sources.includes(source));
      const unfaded = (of: Patch): Patch => ({
        ...of,
        layers: of.layers.map((layer) => ({ ...layer, windows: isOn(layer.windows) })),
        groups: of.groups.map((group) => ({ ...group, windows: isOn(group.windows) })),
      });
      const plain = unfaded(patch);
      const key = MIDDLE_KEYS.find((each) =>
        both.every((layer) =>
          answers(
            rig,
            plain,
            plain.layers.find(({ id }) => id === layer.id)!,
            each,
            [96],
          ),
        ),
      );
      if (key === undefined) return [];
      const points = ways.map(({ at, patch: there, set }) => {
        const level = (list: readonly Layer[], of: Patch) =>
          loudnessNow(
            ear.strike(idsOf(list), key, 96, { set: new Map([...open, ...set]), seconds: FADE_SECONDS, patch: of }),
            RATE,
            FADE_SECONDS,
          );
        const bare = unfaded(there);
        return { at, offDb: level(both, there) - ((1 - at) * level(from, bare) + at * level(to, bare)) };
      });
      const told = points.filter(({ offDb }) => Number.isFinite(offDb));
      const sets = ways.filter((_, n) => Number.isFinite(points[n].offDb)).map(({ set }) => Object.fromEntries(set));
      return told.length === 0
        ? []
        : [
            {
              layerIds: idsOf(both),
              source: sources[0],
              over: { name, sources, sets },
              key,
              velocity: 96,
              points: told,
            },
          ];
    });
}
/** Keys on which layers that fade into each other are struck: the nearest to the middle that both answer. */
const MIDDLE_KEYS = [60, 55, 65, 50, 70, 45, 75, 40, 80];
const MOST_MORPHS = 12;

/**
 * Crossfades of dynamics inside sounds: one of each pair of borders, on a key in the middle of those that have it, held
 * against both zones by themselves.
 */
export function fadesWithin(ear: Ear, rig: Rig, patch: Patch, layers: readonly Layer[]): FadeHeard[] {
  const found: FadeHeard[] = [];
  for (const layer of layers) {
    for (const soundId of soundsOf(layer)) {
      const sound = rig.sounds.find(({ id }) => id === soundId);
      if (sound?.kind !== 'multisample') continue;
      const borders = new Map<string, { a: number; b: number; key: number }[]>();
      sound.zones.forEach((out, a) =>
        sound.zones.forEach((back, b) => {
          const low = Math.max(out.velocity.high - out.velocity.fadeOut, back.velocity.low);
          const high = Math.min(out.velocity.high, back.velocity.low + back.velocity.fadeIn);
          const keyLow = Math.max(out.key.low, back.key.low);
          const keyHigh = Math.min(out.key.high, back.key.high);
          if (
            a === b ||
            out.trigger !== 'attack' ||
            back.trigger !== 'attack' ||
            out.velocity.fadeOut < LEAST_FADE ||
            back.velocity.fadeIn < LEAST_FADE ||
            high - low < LEAST_FADE ||
            keyLow > keyHigh ||
            out.velocity.low >= back.velocity.low
          )
            return;
          borders.set(`${low} ${high}`, [
            ...(borders.get(`${low} ${high}`) ?? []),
            { a, b, key: Math.round((keyLow + keyHigh) / 2) },
          ]);
        }),
      );
      for (const [name, list] of [...borders].slice(0, MOST_BORDERS)) {
        const [low, high] = name.split(' ').map(Number);
        const { a, b, key: played } = list[list.length >> 1];
        const key = played - transposeOf(patch, layer);
        const velocities = FADE_POINTS.map((t) => Math.round(low + t * (high - low)));
        if (key < 0 || key > 127 || !velocities.every((velocity) => answers(rig, patch, layer, key, [velocity])))
          continue;
        const alone = (place: number): Rig => ({
          ...rig,
          sounds: rig.sounds.map((each) =>
            each === sound
              ? {
                  ...sound,
                  zones: [
                    { ...sound.zones[place], velocity: { low: 1, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
                  ],
                }
              : each,
          ),
        });
        const set = openFor(patch, [layer]);
        const level = (velocity: number, of?: Rig) =>
          loudnessNow(ear.strike([layer.id], key, velocity, { set, seconds: FADE_SECONDS, of }), RATE, FADE_SECONDS);
        const [first, second] = [alone(a), alone(b)];
        const points = velocities
          .map((at) => {
            const share = (at - low) / (high - low);
            return { at, offDb: level(at) - ((1 - share) * level(at, first) + share * level(at, second)) };
          })
          .filter(({ offDb }) => Number.isFinite(offDb));
        if (points.length > 0)
          found.push({
            layerIds: [layer.id],
            within: { soundId, zones: [...new Set(list.flatMap((each) => [each.a, each.b]))] },
            source: 'velocity',
            key,
            velocity: 96,
            points,
          });
      }
    }
  }
  return found;
}
/** Fades of fewer velocities are hardly any, and so many borders of a sound are listened to. */
const LEAST_FADE = 3,
  MOST_BORDERS = 6;
