import type { Curve } from '../../space/curve';

/** `low` and `high`, where the route is bound, are how far from its rest the target may get. */
export interface CompiledRoute {
  source: number;
  depth: number;
  curve: Curve;
  inverted: boolean;
  scaledBy: number;
  bound: boolean;
  low: number;
  high: number;
}
