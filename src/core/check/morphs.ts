import { updateBlend } from '../rig/edits/pads';
import type { Layer, Patch } from '../rig/schema';
import { NaturalNeighbours } from '../space/naturalNeighbours';
import type { SourceId } from '../space/source';

/**
 * One way through a morph: from one set of layers to another, at some points 0…1, each a patch or a place of sources at
 * which to listen.
 */
export interface MorphWay {
  name: string;
  sources: readonly string[];
  from: readonly Layer[];
  to: readonly Layer[];
  points: readonly { at: number; patch: Patch; set: ReadonlyMap<SourceId, number> }[];
}

/** Shares that other anchors may have on a way between two: with more, it is no crossfade of the two. */
const MOST_ASIDE = 0.05;

const ownedBy = (patch: Patch, id: string | null): Layer[] =>
  patch.layers.filter((layer) => layer.on && (layer.id === id || (id !== null && layer.groupId === id)));
/** A pad or blend stands where it is put: nothing else moves it. */
const still = (patch: Patch, prefix: string): Patch => ({
  ...patch,
  routes: patch.routes.filter(({ target }) => !target.startsWith(prefix)),
});

/**
 * Straight ways from anchor to anchor of the XY pads of a patch, where hardly anything else sounds between them; and
 * along its blends, from each layer to the next.
 */
export function morphWays(patch: Patch, points: readonly number[]): MorphWay[] {
  return [
    ...patch.xyPads.flatMap((pad) => padWays(patch, pad, points)),
    ...patch.blends.flatMap((blend) => blendWays(patch, blend, points)),
  ];
}

function padWays(patch: Patch, pad: Patch['xyPads'][number], points: readonly number[]): MorphWay[] {
  const { anchors, number, name } = pad;
  const neighbours = new NaturalNeighbours(Float64Array.from(anchors.flatMap(({ x, y }) => [x, y])));
  const heldStill: Patch = {
    ...still(patch, `xy.${number}.`),
    xyPads: patch.xyPads.map((each) => (each === pad ? { ...pad, motion: 'hand' } : each)),
  };
  return anchors.flatMap((a, i) =>
    anchors.slice(i + 1).flatMap((b, k): MorphWay[] => {
      const [from, to] = [ownedBy(patch, a.layerId), ownedBy(patch, b.layerId)];
      const places = points.map((t) => [a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)] as const);
      const isBetween = places.every(([x, y]) => {
        neighbours.shareOut(Float64Array.of(x, y), 0);
        return neighbours.shares[i] + neighbours.shares[i + 1 + k] >= 1 - MOST_ASIDE;
      });
      if (from.length === 0 || to.length === 0 || !isBetween) return [];
      return [
        {
          name,
          from,
          to,
          sources: [`xy.${number}.anchor.${i + 1}`, `xy.${number}.anchor.${i + 2 + k}`],
          points: places.map(([x, y], n) => ({
            at: points[n],
            patch: heldStill,
            set: new Map<SourceId, number>([
              [`xy.${number}.x`, x],
              [`xy.${number}.y`, y],
            ]),
          })),
        },
      ];
    }),
  );
}

function blendWays(patch: Patch, { number, name }: Patch['blends'][number], points: readonly number[]): MorphWay[] {
  const source = `blend.${number}`;
  // Each at the place of the blend where it is full.
  const members = patch.layers
    .flatMap((layer) => {
      const window = layer.windows.find((each) => each.source === source);
      return layer.on && window
        ? [
            {
              layer,
              at: (window.low + window.fadeIn + window.high - window.fadeOut) / 2,
              low: window.low,
              high: window.high,
              isFirst: window.fadeIn === 0,
              isLast: window.fadeOut === 0,
            },
          ]
        : [];
    })
    .map((member) => ({ ...member, at: member.isFirst ? member.low : member.isLast ? member.high : member.at }))
    .sort((a, b) => a.at - b.at);
  return members.slice(1).flatMap((to, i): MorphWay[] => {
    const from = members[i];
    if (to.at - from.at < 0.02) return [];
    return [
      {
        name,
        from: [from.layer],
        to: [to.layer],
        sources: [source],
        points: points.map((t) => ({
          at: t,
          patch: updateBlend(still(patch, source), number, { value: from.at + t * (to.at - from.at) }),
          set: new Map(),
        })),
      },
    ];
  });
}
