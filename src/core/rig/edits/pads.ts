import { parseSource } from '../../space/source';
import { fullWindow } from '../defaults';
import { readsSource } from '../moves';
import { heldName } from '../names';
import { XY_PARAMETERS, type XyParameterId } from '../parameters';
import { type Anchor, type LayerWindow, type Patch, type XyPad } from '../schema';
import { updateGroup } from './groups';
import { setWindow } from './windows';

/**
 * Edits of what moves what: pure functions from patch to patch. What there is no room for, or no such thing, leaves the
 * patch as it is.
 */

export const held = (value: number, low: number, high: number): number => Math.min(high, Math.max(low, value));
export const firstFree = (used: readonly number[], most: number): number | undefined =>
  Array.from({ length: most }, (_, i) => i + 1).find((n) => !used.includes(n));

/**
 * Without the routes from and to something, and without the windows that look at it. `source` and `target` are ids or
 * the beginnings of ids that end in a dot.
 */
export function withoutSource(patch: Patch, source: string, target: string): Patch {
  const isIt = (id: string | undefined, what: string) =>
    id !== undefined && (id === what || (what.endsWith('.') && id.startsWith(what)));
  return {
    ...patch,
    routes: patch.routes.filter(
      (route) => !readsSource(route, source) && !isIt(route.target, target) && !isIt(route.target, `${target}.`),
    ),
    layers: patch.layers.map((layer) =>
      layer.windows.some((window) => isIt(window.source, source))
        ? { ...layer, windows: layer.windows.filter((window) => !isIt(window.source, source)) }
        : layer,
    ),
    groups: patch.groups.map((group) =>
      group.windows.some((window) => isIt(window.source, source))
        ? { ...group, windows: group.windows.filter((window) => !isIt(window.source, source)) }
        : group,
    ),
    movers: patch.movers.map((mover) =>
      mover.kind === 'hold' && isIt(mover.follows, source) ? { ...mover, follows: 'random' } : mover,
    ),
  };
}

/** The window of a layer, or of a group, on the share of an anchor. */
export function setAnchorWindow(patch: Patch, ownerId: string, number: number, part: number): Patch {
  const window: LayerWindow = { ...fullWindow(`xy.${number}.anchor.${part}`), fadeIn: 1, shape: 'root' };
  return updateGroup(setWindow(patch, ownerId, window), ownerId, (group) => ({
    ...group,
    windows: [...group.windows.filter(({ source }) => source !== window.source), window],
  }));
}

export const updatePad = (patch: Patch, number: number, change: Partial<Omit<XyPad, 'number'>>): Patch => ({
  ...patch,
  xyPads: patch.xyPads.map((pad) =>
    pad.number === number ? { ...pad, ...change, name: heldName(change.name ?? pad.name) } : pad,
  ),
});

// XY pads

export function addPad(
  patch: Patch,
  name: string,
  anchors: readonly Anchor[] = [],
): { patch: Patch; number: number } | undefined {
  const number = firstFree(
    patch.xyPads.map((pad) => pad.number),
    4,
  );
  return number === undefined
    ? undefined
    : {
        number,
        patch: {
          ...patch,
          xyPads: [
            ...patch.xyPads,
            {
              number,
              name: heldName(name),
              x: 0.5,
              y: 0.5,
              motion: 'hand',
              anchors: [...anchors],
              path: [],
              params: {},
            },
          ],
        },
      };
}

/**
 * Two to eight layers, or groups, spread over a pad of their own, an anchor each: in the corners where there are four,
 * around it where there are more or fewer. In the middle all play at equal power.
 */
export function spreadOverPad(
  patch: Patch,
  layerIds: readonly string[],
  name: string,
): { patch: Patch; number: number } | undefined {
  const layers = layerIds
    .flatMap((id): { id: string; name: string }[] =>
      [patch.layers.find((layer) => layer.id === id) ?? patch.groups.find((group) => group.id === id)].filter(
        (each) => each !== undefined,
      ),
    )
    .slice(0, 8);
  if (layers.length < 2) return undefined;
  const places =
    layers.length === 2
      ? [
          [0, 0.5],
          [1, 0.5],
        ]
      : layers.length === 4
        ? [
            [0, 1],
            [1, 1],
            [1, 0],
            [0, 0],
          ]
        : layers.map((_, i) => [
            0.5 + 0.5 * Math.sin((2 * Math.PI * i) / layers.length),
            0.5 + 0.5 * Math.cos((2 * Math.PI * i) / layers.length),
          ]);
  const made = addPad(
    patch,
    name,
    layers.map((layer, i) => ({ name: layer.name, x: places[i][0], y: places[i][1], layerId: layer.id })),
  );
  return (
    made && {
      number: made.number,
      patch: layers.reduce<Patch>((left, layer, i) => setAnchorWindow(left, layer.id, made.number, i + 1), made.patch),
    }
  );
}

export function setXyParam(patch: Patch, number: number, id: XyParameterId, value: number): Patch {
  const { low, high } = XY_PARAMETERS[id];
  const pad = patch.xyPads.find((candidate) => candidate.number === number);
  if (!pad || Number.isNaN(value)) return patch;
  return updatePad(
    patch,
    number,
    id === 'x' || id === 'y'
      ? { [id]: held(value, low, high) }
      : { params: { ...pad.params, [id]: held(value, low, high) } },
  );
}

/** Without an anchor: those behind it move up, and what looked at them with them. */
export function deleteAnchor(patch: Patch, number: number, at: number): Patch {
  const pad = patch.xyPads.find((candidate) => candidate.number === number);
  if (!pad?.anchors[at]) return patch;
  const name = (part: number) => `xy.${number}.anchor.${part}`;
  const left = withoutSource(patch, name(at + 1), name(at + 1));
  const renamed = (id: string): string => {
    const source = parseSource(id);
    return source?.kind === 'xyAnchor' && source.index === number && source.part > at + 1 ? name(source.part - 1) : id;
  };
  return updatePad(
    {
      ...left,
      routes: left.routes.map((route) => ({
        ...route,
        source: typeof route.source === 'string' ? renamed(route.source) : route.source,
        ...(route.scaledBy ? { scaledBy: renamed(route.scaledBy) } : {}),
      })),
      layers: left.layers.map((layer) => ({
        ...layer,
        windows: layer.windows.map((window) => ({ ...window, source: renamed(window.source) })),
      })),
      groups: left.groups.map((group) => ({
        ...group,
        windows: group.windows.map((window) => ({ ...window, source: renamed(window.source) })),
      })),
    },
    number,
    { anchors: pad.anchors.filter((_, i) => i !== at) },
  );
}

// Blends

/** A blend of two or more layers along one line: each fades into the next at constant power. */
export function blendLayers(
  patch: Patch,
  layerIds: readonly string[],
  name: string,
): { patch: Patch; number: number } | undefined {
  const layers = layerIds.flatMap((id) => patch.layers.find((layer) => layer.id === id) ?? []);
  const number = firstFree(
    patch.blends.map((blend) => blend.number),
    8,
  );
  if (layers.length < 2 || number === undefined) return undefined;
  const step = 1 / (layers.length - 1);
  const made: Patch = { ...patch, blends: [...patch.blends, { number, name: heldName(name), value: 0.5 }] };
  return {
    number,
    patch: layers.reduce(
      (left, layer, i) =>
        setWindow(left, layer.id, {
          ...fullWindow(`blend.${number}`),
          shape: 'root',
          low: i === 0 ? 0 : (i - 1) * step,
          fadeIn: i === 0 ? 0 : step,
          high: i === layers.length - 1 ? 1 : (i + 1) * step,
          fadeOut: i === layers.length - 1 ? 0 : step,
        }),
      made,
    ),
  };
}

export const updateBlend = (patch: Patch, number: number, change: { name?: string; value?: number }): Patch => ({
  ...patch,
  blends: patch.blends.map((blend) =>
    blend.number === number
      ? {
          ...blend,
          ...change,
          value: held(change.value ?? blend.value, 0, 1),
          name: heldName(change.name ?? blend.name),
        }
      : blend,
  ),
});
