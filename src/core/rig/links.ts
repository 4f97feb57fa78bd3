import { isMoverKind, parseSource } from '../space/source';
import { circleIn, connectionsOf, effectsIn, HOME, isPair, nameOfPlace, placesIn } from './mix';
import { parseTarget } from './parameters';
import { TABLE_IDS } from '../sounds/synth/tableIds';
import type { PatchContent, Rig } from './schema';

export interface Fault {
  place: string;
  problem: string;
}

/**
 * The first thing in a rig that points at nothing, or that shares with another what should be its own; undefined in a
 * sound rig.
 */
export function brokenLink(rig: Rig): Fault | undefined {
  const { patches, sounds, samples } = rig;
  const sampleIds = idsOf(samples);
  const patchIds = idsOf(patches);
  const faults = function* (): Generator<Fault | undefined> {
    yield repeated('patches', patches.map(idOf));
    yield repeated('sounds', sounds.map(idOf));
    yield repeated('samples', samples.map(idOf));
    yield repeated('setlists', rig.setlists.map(idOf));
    yield repeated('instruments', rig.instruments.map(idOf));
    yield repeated('pairs', rig.pairs.map(idOf));
    if (rig.click.pair !== null) yield missing(idsOf(rig.pairs), rig.click.pair, 'pair', 'click.pair');
    if (rig.setlist !== null) yield missing(idsOf(rig.setlists), rig.setlist, 'setlist', 'setlist');
    for (const [i, { entries }] of rig.setlists.entries()) {
      yield repeated(`setlists[${i}].entries`, entries.map(idOf));
      for (const [e, { kind, patches: played }] of entries.entries()) {
        for (const [n, id] of played.entries())
          yield missing(patchIds, id, 'patch', `setlists[${i}].entries[${e}].patches[${n}]`);
        if (kind === 'pause' ? played.length > 0 : kind === 'patch' ? played.length !== 1 : played.length === 0)
          yield {
            place: `setlists[${i}].entries[${e}]`,
            problem:
              kind === 'pause'
                ? 'is a pause with a patch'
                : kind === 'patch'
                  ? 'is a patch that has none, or several'
                  : 'is a song without a patch',
          };
      }
    }
    for (const [b, { target }] of rig.controllers.bindings.entries())
      if (target.startsWith('patch.'))
        yield missing(patchIds, target.slice(6), 'patch', `controllers.bindings[${b}].target`);
    for (const [s, sound] of sounds.entries()) {
      for (const [z, zone] of sound.zones.entries())
        yield missing(sampleIds, zone.sampleId, 'sample', `sounds[${s}].zones[${z}].sampleId`);
      if (sound.kind === 'synth')
        for (const [w, { table }] of sound.waves.entries())
          if (!TABLE_IDS.includes(table)) yield missing(sampleIds, table, 'sample', `sounds[${s}].waves[${w}].table`);
    }
    for (const [p, patch] of patches.entries()) {
      yield repeated(`patches[${p}].versions`, patch.versions.map(idOf));
      if (patch.version !== null)
        yield missing(idsOf(patch.versions), patch.version, 'version', `patches[${p}].version`);
    }
    const there = thereIn(rig);
    for (const [p, patch] of patches.entries()) {
      yield* faultsKept(`patches[${p}]`, patch, there);
      for (const [v, version] of patch.versions.entries())
        yield* faultsKept(`patches[${p}].versions[${v}].patch`, version.patch, there);
    }
  };
  for (const fault of faults()) if (fault) return fault;
  return undefined;
}

/**
 * What patches may point at. One that has the same ids as the one before is that one: what was held against it need not
 * be again.
 */
interface There {
  soundIds: ReadonlySet<string>;
  sampleIds: ReadonlySet<string>;
  patchIds: ReadonlySet<string>;
  instrumentIds: ReadonlySet<string>;
  pairIds: ReadonlySet<string>;
}
let latest: There | undefined;
function thereIn({ sounds, samples, patches, instruments, pairs }: Rig): There {
  const same = (ids: ReadonlySet<string>, items: readonly { id: string }[]) =>
    ids.size === items.length && items.every(({ id }) => ids.has(id));
  if (
    latest &&
    same(latest.soundIds, sounds) &&
    same(latest.sampleIds, samples) &&
    same(latest.patchIds, patches) &&
    same(latest.instrumentIds, instruments) &&
    same(latest.pairIds, pairs)
  )
    return latest;
  latest = {
    soundIds: idsOf(sounds),
    sampleIds: idsOf(samples),
    patchIds: idsOf(patches),
    instrumentIds: idsOf(instruments),
    pairIds: idsOf(pairs),
  };
  return latest;
}

/** Patches in which everything points at something, with what they were held against. */
const sound = new WeakMap<PatchContent, There>();
function* faultsKept(place: string, patch: PatchContent, there: There): Generator<Fault> {
  if (sound.get(patch) === there) return;
  let isSound = true;
  for (const fault of faultsOfContent(place, patch, there)) {
    if (!fault) continue;
    isSound = false;
    yield fault;
  }
  if (isSound) sound.set(patch, there);
}

function* faultsOfContent(
  place: string,
  patch: PatchContent,
  { soundIds, sampleIds, patchIds, instrumentIds, pairIds }: There,
): Generator<Fault | undefined> {
  const layerIds = idsOf(patch.layers);
  const groupIds = idsOf(patch.groups);
  yield repeated(`${place}.layers`, patch.layers.map(idOf));
  yield repeated(`${place}.groups`, patch.groups.map(idOf));
  yield repeated(`${place}.routes`, patch.routes.map(idOf));
  yield repeated(
    `${place}.macros`,
    patch.macros.map((macro) => macro.number),
  );
  yield repeated(
    `${place}.blends`,
    patch.blends.map((blend) => blend.number),
  );
  yield repeated(
    `${place}.xyPads`,
    patch.xyPads.map((pad) => pad.number),
  );
  yield repeated(
    `${place}.movers`,
    patch.movers.map(({ kind, number }) => `${kind}.${number}`),
  );
  const places = new Set([...placesIn(patch), ...[...pairIds].map((id) => `pair.${id}`)]);
  const effects = effectsIn(patch);
  yield repeated(`${place}.pools`, patch.pools.map(idOf));
  yield repeated(`${place}.connections`, patch.connections.map(idOf));
  yield repeated(`${place}.takes`, patch.takes.map(idOf));
  yield repeated(`${place}.backing`, patch.backing.map(idOf));
  yield repeated(`${place}.draws`, patch.draws.map(idOf));
  const drawIds = idsOf(patch.draws);
  if (patch.drawn !== null) yield missing(drawIds, patch.drawn, 'draw', `${place}.drawn`);
  for (const [d, draw] of patch.draws.entries())
    if (draw.from !== null) yield missing(drawIds, draw.from, 'draw', `${place}.draws[${d}].from`);
  yield repeated(
    `${place}.effects`,
    effects.map(({ effect }) => effect.id),
  );
  for (const { place: owner, effect } of effects) {
    if (effect.listens !== null)
      yield missing(layerIds, effect.listens, 'layer', `${place}.${owner}.effects.${effect.id}.listens`);
    if (effect.sampleId !== null)
      yield missing(sampleIds, effect.sampleId, 'sample', `${place}.${owner}.effects.${effect.id}.sampleId`);
  }
  for (const [c, connection] of patch.connections.entries()) {
    for (const end of ['from', 'to'] as const)
      if (!places.has(connection[end]) && (end === 'from' || connection.kind === 'send' || connection.to !== HOME))
        yield { place: `${place}.connections[${c}].${end}`, problem: `there is no ${connection[end]}` };
    const fromEnd =
      connection.from.startsWith('pair.') ||
      (connection.from === 'main' && (connection.kind === 'output' || !isPair(connection.to)));
    if (fromEnd || connection.to.startsWith('layer.') || connection.to === connection.from)
      yield {
        place: `${place}.connections[${c}]`,
        problem: `nothing can flow from ${connection.from} to ${connection.to}`,
      };
    if (
      connection.kind === 'output' &&
      patch.connections.findIndex((other) => other.kind === 'output' && other.from === connection.from) !== c
    )
      yield { place: `${place}.connections[${c}]`, problem: `${connection.from} has two outputs` };
  }
  const circle = circleIn(patch);
  if (circle)
    yield {
      place: `${place}.connections`,
      problem: `sound flows in a circle: ${[...circle, circle[0]].map((each) => nameOfPlace(patch, each)).join(' → ')}`,
    };
  for (const [b, backing] of patch.backing.entries())
    yield* [
      missing(sampleIds, backing.sampleId, 'sample', `${place}.backing[${b}].sampleId`),
      backing.pair === null ? undefined : missing(pairIds, backing.pair, 'pair', `${place}.backing[${b}].pair`),
    ];
  for (const [t, take] of patch.takes.entries()) {
    for (const [q, part] of take.parts.entries()) {
      const [kind, id] = part.plays.split('.');
      if (kind !== 'patch' || id !== undefined)
        yield missing(
          kind === 'layer' || kind === 'notes' ? layerIds : kind === 'group' ? groupIds : patchIds,
          id,
          kind === 'notes' ? 'layer' : kind,
          `${place}.takes[${t}].parts[${q}].plays`,
        );
    }
  }
  yield repeated(`${place}.told`, patch.told.map(idOf));
  yield repeated(`${place}.knobs`, patch.knobs.map(idOf));
  for (const [t, { id }] of patch.told.entries())
    yield missing(instrumentIds, id, 'instrument', `${place}.told[${t}].id`);
  for (const [k, { instrumentId }] of patch.knobs.entries())
    yield missing(instrumentIds, instrumentId, 'instrument', `${place}.knobs[${k}].instrumentId`);
  const outputs = new Set(connectionsOf(patch).map(idOf));
  for (const [x, pad] of patch.xyPads.entries()) {
    for (const [a, anchor] of pad.anchors.entries())
      if (anchor.layerId !== null)
        yield missing(
          new Set([...layerIds, ...groupIds]),
          anchor.layerId,
          'layer or group',
          `${place}.xyPads[${x}].anchors[${a}].layerId`,
        );
  }
  for (const [m, mover] of patch.movers.entries()) {
    if (mover.kind === 'follower' && mover.follows !== 'main')
      yield missing(layerIds, mover.follows, 'layer', `${place}.movers[${m}].follows`);
    if (mover.kind === 'hold' && mover.follows !== 'random' && !parseSource(mover.follows))
      yield { place: `${place}.movers[${m}].follows`, problem: `"${mover.follows}" names no source` };
  }
  for (const [l, layer] of patch.layers.entries()) {
    if (layer.groupId !== null) yield missing(groupIds, layer.groupId, 'group', `${place}.layers[${l}].groupId`);
    yield missing(soundIds, layer.soundId, 'sound', `${place}.layers[${l}].soundId`);
    if (layer.path.instrument !== null)
      yield missing(instrumentIds, layer.path.instrument, 'instrument', `${place}.layers[${l}].path.instrument`);
    for (const [n, id] of layer.list.entries())
      yield missing(soundIds, id, 'sound', `${place}.layers[${l}].list[${n}]`);
    for (const source of ['key', 'velocity']) {
      if (!layer.windows.some((window) => window.source === source))
        yield { place: `${place}.layers[${l}].windows`, problem: `has no window on ${source}` };
    }
  }
  for (const [r, route] of patch.routes.entries()) {
    const target = parseTarget(route.target);
    if (target?.kind === 'layer') yield missing(layerIds, target.layerId, 'layer', `${place}.routes[${r}].target`);
    if (target?.kind === 'group') yield missing(groupIds, target.groupId, 'group', `${place}.routes[${r}].target`);
    if (
      target &&
      isMoverKind(target.kind) &&
      !patch.movers.some(({ kind, number }) => kind === target.kind && number === (target as { number: number }).number)
    )
      yield {
        place: `${place}.routes[${r}].target`,
        problem: `there is no ${target.kind}.${(target as { number: number }).number}`,
      };
    if (target?.kind === 'pool')
      yield missing(idsOf(patch.pools), target.id, 'shared effect', `${place}.routes[${r}].target`);
    if (target?.kind === 'knob')
      yield missing(idsOf(patch.knobs), target.id, 'value outside', `${place}.routes[${r}].target`);
    if (target?.kind === 'connection') yield missing(outputs, target.id, 'connection', `${place}.routes[${r}].target`);
    if (
      target?.kind === 'effect' &&
      !effects.some(({ effect }) => effect.id === target.id && effect.kind === target.effectKind)
    )
      yield { place: `${place}.routes[${r}].target`, problem: `there is no ${target.effectKind} "${target.id}"` };
    if (target?.kind === 'xy' && !patch.xyPads.some(({ number }) => number === target.number))
      yield { place: `${place}.routes[${r}].target`, problem: `there is no XY pad ${target.number}` };
  }
}

const idOf = (item: { id: string }): string => item.id;
const idsOf = (items: readonly { id: string }[]) => new Set(items.map(idOf));

const missing = (ids: ReadonlySet<string>, id: string, what: string, place: string): Fault | undefined =>
  ids.has(id) ? undefined : { place, problem: `no ${what} has the id "${id}"` };

function repeated(place: string, ids: readonly (string | number)[]): Fault | undefined {
  const seen = new Set<string | number>();
  for (const [i, id] of ids.entries()) {
    if (seen.has(id)) return { place: `${place}[${i}]`, problem: `"${id}" is used twice` };
    seen.add(id);
  }
  return undefined;
}
