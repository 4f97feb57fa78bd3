import { MOST_ANCHORS } from './source';

/**
 * Shares of anchors on a plane for a dot: natural-neighbour coordinates (R. Sibson, A brief description of natural
 * neighbour interpolation, 1981). The share of an anchor is the part of the dot's
 * Voronoi cell that the anchor would own without the dot: 1 at an anchor itself, ¼ each in the middle of a square; they
 * sum to 1 and reproduce linear functions within the anchors' hull. A dot
 * outside the hull has the shares of the nearest point of the hull. Made once for a set of anchors; {@link shareOut}
 * allocates nothing.
 */
export class NaturalNeighbours {
  /** By anchor, from {@link shareOut} on. */
  readonly shares = new Float64Array(MOST_ANCHORS);
  private readonly count: number;
  /** The hull's corners, in order around it, as places of anchors. */
  private readonly hull: readonly number[];
  /** Two polygons, x and y in turn: the dot's cell, and what is cut from it. */
  private readonly cell = new Float64Array(ROOM);
  private readonly cut = new Float64Array(ROOM);
  private readonly spare = new Float64Array(ROOM);
  /**
   * Anchors as seen from the dot, and the dot itself at the end: far corners would swallow what is near. Places, not
   * fractions, are handed to functions: those may be put on the heap.
   */
  private readonly seen = new Float64Array(2 * MOST_ANCHORS + 2);

  /**
   * `points`: x and y of each anchor in turn, at most {@link MOST_ANCHORS} of them. Anchors in the same place share
   * equally.
   */
  constructor(private readonly points: Float64Array) {
    this.count = points.length / 2;
    this.hull = hullOf(points);
  }

  /** Works out the shares for the dot at `dot[at]`, `dot[at + 1]`. */
  shareOut(dot: Float64Array, at: number): void {
    const { points, shares, count, hull } = this;
    shares.fill(0);
    if (count === 0) return;
    const x = dot[at],
      y = dot[at + 1];
    let same = 0;
    for (let i = 0; i < count; i++) if (near(points[2 * i], x) && near(points[2 * i + 1], y)) same++;
    if (same > 0) {
      for (let i = 0; i < count; i++) if (near(points[2 * i], x) && near(points[2 * i + 1], y)) shares[i] = 1 / same;
      return;
    }
    if (hull.length < 3 || this.onEdge(dot, at)) this.alongEdge(dot, at);
    else this.bySibson(dot, at);
  }

  /** Whether the dot is outside the hull, or so near its edge that its cell would not end. */
  private onEdge(dot: Float64Array, at: number): boolean {
    const { hull, points } = this;
    const x = dot[at],
      y = dot[at + 1];
    for (let h = 0; h < hull.length; h++) {
      const a = 2 * hull[h],
        b = 2 * hull[(h + 1) % hull.length];
      const dx = points[b] - points[a],
        dy = points[b + 1] - points[a + 1];
      if ((dx * (y - points[a + 1]) - dy * (x - points[a])) / Math.sqrt(dx * dx + dy * dy) < EDGE) return true;
    }
    return false;
  }

  /** The nearest point of the hull's edge lies between two anchors, which share by their distances along it. */
  private alongEdge(dot: Float64Array, at: number): void {
    const { hull, points, shares } = this;
    const x = dot[at],
      y = dot[at + 1];
    let best = Infinity,
      from = 0,
      to = 0,
      share = 0;
    for (let h = 0; h < hull.length; h++) {
      const a = hull[h],
        b = hull[(h + 1) % hull.length];
      const ax = points[2 * a],
        ay = points[2 * a + 1];
      const dx = points[2 * b] - ax,
        dy = points[2 * b + 1] - ay;
      const length = dx * dx + dy * dy;
      const along = length === 0 ? 0 : ((x - ax) * dx + (y - ay) * dy) / length;
      const t = along < 0 ? 0 : along > 1 ? 1 : along;
      const ex = x - ax - t * dx,
        ey = y - ay - t * dy;
      const distance = ex * ex + ey * ey;
      if (distance >= best) continue;
      best = distance;
      from = a;
      to = b;
      share = t;
    }
    shares[from] += 1 - share;
    shares[to] += share;
    this.shareAmongSame();
  }

  private bySibson(dot: Float64Array, at: number): void {
    const { points, shares, count, cell, cut, seen } = this;
    for (let i = 0; i < 2 * count; i++) seen[i] = points[i] - dot[at + (i & 1)];
    cell[0] = -FAR;
    cell[1] = -FAR;
    cell[2] = FAR;
    cell[3] = -FAR;
    cell[4] = FAR;
    cell[5] = FAR;
    cell[6] = -FAR;
    cell[7] = FAR;
    let corners = 4;
    for (let i = 0; i < count; i++) corners = this.clip(cell, corners, MOST_ANCHORS, i);
    let sum = 0;
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < 2 * corners; c++) cut[c] = cell[c];
      let left = corners;
      for (let j = 0; j < count && left > 0; j++) {
        if (j !== i && (points[2 * j] !== points[2 * i] || points[2 * j + 1] !== points[2 * i + 1]))
          left = this.clip(cut, left, i, j);
      }
      let area = 0;
      for (let c = 0; c < left; c++) {
        const d = c + 1 === left ? 0 : c + 1;
        area += cut[2 * c] * cut[2 * d + 1] - cut[2 * d] * cut[2 * c + 1];
      }
      shares[i] = area > 0 ? area : 0;
      sum += shares[i];
    }
    for (let i = 0; i < count; i++) shares[i] = sum > 0 ? shares[i] / sum : 0;
  }

  /** Keeps of a polygon what is nearer to one place that is {@link seen} than to another; gives the corners left. */
  private clip(polygon: Float64Array, corners: number, own: number, other: number): number {
    const { spare, seen } = this;
    const ax = seen[2 * own],
      ay = seen[2 * own + 1],
      bx = seen[2 * other],
      by = seen[2 * other + 1];
    const nx = bx - ax,
      ny = by - ay;
    const limit = (bx * bx + by * by - ax * ax - ay * ay) / 2;
    let kept = 0;
    for (let c = 0; c < corners; c++) {
      const d = c + 1 === corners ? 0 : c + 1;
      const cx = polygon[2 * c],
        cy = polygon[2 * c + 1],
        dx = polygon[2 * d],
        dy = polygon[2 * d + 1];
      const here = nx * cx + ny * cy - limit,
        there = nx * dx + ny * dy - limit;
      if (here <= 0) {
        spare[2 * kept] = cx;
        spare[2 * kept++ + 1] = cy;
      }
      if ((here < 0 && there > 0) || (here > 0 && there < 0)) {
        const t = here / (here - there);
        spare[2 * kept] = cx + (dx - cx) * t;
        spare[2 * kept++ + 1] = cy + (dy - cy) * t;
      }
    }
    for (let c = 0; c < 2 * kept; c++) polygon[c] = spare[c];
    return kept;
  }

  /** Of anchors in one place the hull knows one; they share what it has. */
  private shareAmongSame(): void {
    const { points, shares, count } = this;
    for (let i = 0; i < count; i++) {
      if (shares[i] === 0) continue;
      let same = 1;
      for (let j = 0; j < count; j++)
        if (j !== i && shares[j] === 0 && points[2 * j] === points[2 * i] && points[2 * j + 1] === points[2 * i + 1])
          same++;
      if (same === 1) continue;
      const part = shares[i] / same;
      for (let j = 0; j < count; j++)
        if (points[2 * j] === points[2 * i] && points[2 * j + 1] === points[2 * i + 1]) shares[j] = part;
      return;
    }
  }
}

const FAR = 1e4;
const EDGE = 1e-5;
const ROOM = 2 * (MOST_ANCHORS * 2 + 8);
const near = (a: number, b: number): boolean => a - b < 1e-9 && b - a < 1e-9;

/**
 * The corners of the convex hull against the clock, those on its edges included, as places of points (A. M. Andrew's
 * monotone chain, 1979); equal points once. Where all lie on one line: in order along it and back.
 */
function hullOf(points: Float64Array): number[] {
  const order = Array.from({ length: points.length / 2 }, (_, i) => i)
    .sort((a, b) => points[2 * a] - points[2 * b] || points[2 * a + 1] - points[2 * b + 1] || a - b)
    .filter(
      (at, n, all) =>
        n === 0 || points[2 * at] !== points[2 * all[n - 1]] || points[2 * at + 1] !== points[2 * all[n - 1] + 1],
    );
  const turn = (a: number, b: number, c: number) =>
    (points[2 * b] - points[2 * a]) * (points[2 * c + 1] - points[2 * a + 1]) -
    (points[2 * b + 1] - points[2 * a + 1]) * (points[2 * c] - points[2 * a]);
  if (order.length < 3 || order.every((at) => Math.abs(turn(order[0], order[order.length - 1], at)) < 1e-12))
    return order.length < 3 ? order : onLine(order);
  const chain = (all: readonly number[]) =>
    all.reduce<number[]>((kept, at) => {
      while (kept.length > 1 && turn(kept[kept.length - 2], kept[kept.length - 1], at) < -1e-12) kept.pop();
      return [...kept, at];
    }, []);
  const lower = chain(order);
  const upper = chain([...order].reverse());
  return [...lower.slice(0, -1), ...upper.slice(0, -1)];
}

const onLine = (order: number[]): number[] => [...order, ...order.slice(1, -1).reverse()];
