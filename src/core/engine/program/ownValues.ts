import { toNormal, type LayerParameterId, type Parameter } from '../../rig/parameters';
import { LAYER_PARAMETERS } from '../../rig/layerParameters';
import { OWN_MOVED, OWN_STRIKE, type OwnValues } from './program';

/**
 * The values that a kind of sound alone has, in what generators work with: shares 0…1, levels as factors (the lowest is
 * silence), all else in its unit.
 */

const MOVED: readonly (readonly Parameter[])[] = OWN_MOVED.map((ids) => ids.map((id) => LAYER_PARAMETERS[id]));
const STRIKE: readonly (readonly Parameter[])[] = OWN_STRIKE.map((ids) => ids.map((id) => LAYER_PARAMETERS[id]));
export const MOST_OWN_STRIKE = Math.max(...STRIKE.map((list) => list.length));

/**
 * What turns places 0…1 into what generators work with, as columns of numbers: read from parameters, whose shapes
 * differ, fractions would be put on the heap.
 */
export class Scale {
  private readonly lows: Float64Array;
  private readonly highs: Float64Array;
  /** 0: in proportion, 1: by factors, 2: whole numbers. */
  private readonly laws: Uint8Array;
  /** 0: in its unit, 1: a level, 2: per cent. */
  private readonly kinds: Uint8Array;

  constructor(list: readonly Parameter[]) {
    this.lows = Float64Array.from(list, ({ low }) => low);
    this.highs = Float64Array.from(list, ({ high }) => high);
    this.laws = Uint8Array.from(list, ({ law }) => (law === 'log' ? 1 : law === 'steps' ? 2 : 0));
    this.kinds = Uint8Array.from(list, ({ law, unit }) => (law === 'dB' ? 1 : unit === '%' ? 2 : 0));
  }

  /** Works on the element of a place, held within 0…1. */
  apply(values: Float64Array, place: number): void {
    const low = this.lows[place];
    const high = this.highs[place];
    const law = this.laws[place];
    const kind = this.kinds[place];
    const normal = values[place];
    const clamped = normal < 0 ? 0 : normal > 1 ? 1 : normal;
    let unit = law === 1 ? low * (high / low) ** clamped : low + (high - low) * clamped;
    if (law === 2) unit = Math.round(unit);
    values[place] = kind === 1 ? (unit <= low ? 0 : 10 ** (unit / 20)) : kind === 2 ? unit / 100 : unit;
  }
}

export const MOVED_SCALES = MOVED.map((list) => new Scale(list));
export const STRIKE_SCALES = STRIKE.map((list) => new Scale(list));

/** The place of a parameter among those of its kind. */
export const movedPlace = (kind: number, id: LayerParameterId): number => OWN_MOVED[kind].indexOf(id);
export const strikePlace = (kind: number, id: LayerParameterId): number => OWN_STRIKE[kind].indexOf(id);

/** A 1 for each place among those of a kind whose value is one of several. */
export const wholePlaces = (kind: number): Uint8Array =>
  Uint8Array.from(MOVED[kind], ({ law }) => (law === 'steps' ? 1 : 0));

/** Resting values of a kind's own parameters. */
export function ownValuesOf(kind: number, value: (id: LayerParameterId) => number): OwnValues {
  const inUnits = (scale: Scale, normals: Float64Array) => {
    const values = Float64Array.from(normals);
    for (let place = 0; place < values.length; place++) scale.apply(values, place);
    return values;
  };
  const normals = Float64Array.from(MOVED[kind], (parameter) =>
    toNormal(parameter, value(parameter.id as LayerParameterId)),
  );
  const strikeNormals = Float64Array.from(STRIKE[kind], (parameter) =>
    toNormal(parameter, value(parameter.id as LayerParameterId)),
  );
  return {
    normals,
    rests: inUnits(MOVED_SCALES[kind], normals),
    strikeNormals,
    strikeRests: inUnits(STRIKE_SCALES[kind], strikeNormals),
  };
}
