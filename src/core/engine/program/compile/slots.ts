import { parseTarget } from '../../../rig/parameters';
import type { Patch, Route, Sound } from '../../../rig/schema';
import { namesOfFormula, parseFormula, type FormulaStep } from '../../../space/formula';
import { topologicalOrder } from '../../../space/order';
import { isMoverKind, parseSource } from '../../../space/source';
import { PAD_PARAMETERS, type CompiledRoute, type SourceSlot } from '../program';
import { NOTES_COUNT } from '../../../rig/limits';

/**
 * The sources that a patch uses, each a slot, in an order in which everything comes after what moves it. A source of
 * notes that moves what all notes share has a slot of its own for each way in
 * which a note can count: its name is followed by @ and that way. The same holds for what such a source moves on its
 * way there, a blend or a mover.
 */
export interface Slots {
  slots: SourceSlot[];
  slotOf: ReadonlyMap<string, number>;
  /** What moves a target: `context` is the way in which notes count, where the target is itself read in such a way. */
  routesTo(target: string, context?: string): CompiledRoute[];
  /** What moves a layer's parameters, by their ids: for most layers and parameters nothing does. */
  routesOfLayer(layerId: string): (parameter: string) => CompiledRoute[];
  /** All slots that these ones hang on, themselves included, in order. */
  reachedBy(slots: Iterable<number>): number[];
}

const formulaKey = (formula: string): string => `= ${formula}`;
const baseOf = (node: string): [id: string, context: string] => {
  const at = node.lastIndexOf('@');
  return at < 0 ? [node, ''] : [node.slice(0, at), node.slice(at + 1)];
};

export function slotsOf(
  patch: Patch,
  sounds: readonly Sound[],
  { keyLow, keyHigh, bendOfNote }: { keyLow: number; keyHigh: number; bendOfNote: boolean },
): Slots {
  const routes = patch.routes.filter((route) => route.on);
  const routesByTarget = new Map<string, Route[]>();
  for (const route of routes) routesByTarget.set(route.target, [...(routesByTarget.get(route.target) ?? []), route]);
  const moverOf = new Map(patch.movers.map((mover) => [`${mover.kind}.${mover.number}`, mover]));
  const formulas = new Map<string, FormulaStep[]>();
  for (const { source } of routes)
    if (typeof source !== 'string') formulas.set(formulaKey(source.formula), parseFormula(source.formula));
  const sourceKey = (source: Route['source']): string =>
    typeof source === 'string' ? source : formulaKey(source.formula);

  /** Whether a source has a value for each note. Blends, and formulas, have one as soon as something in them has. */
  const known = new Map<string, boolean>();
  const isOfNote = (id: string): boolean => {
    const before = known.get(id);
    if (before !== undefined) return before;
    // A circle is found, and refused, when the order is made.
    known.set(id, false);
    const found = ((): boolean => {
      const formula = formulas.get(id);
      if (formula) return namesOfFormula(formula).some((name) => parseSource(name) && isOfNote(name));
      const source = parseSource(id);
      if (!source) return false;
      if (isMoverKind(source.kind)) return moverOf.get(id)?.reach === 'note';
      if (source.kind === 'bend') return bendOfNote;
      if (source.kind === 'blend')
        return (routesByTarget.get(id) ?? []).some(
          (route) => isOfNote(sourceKey(route.source)) || (route.scaledBy !== undefined && isOfNote(route.scaledBy)),
        );
      return source.reach === 'note';
    })();
    known.set(id, found);
    return found;
  };
  /**
   * The name of a source as it is read in a context; where all notes share what it moves, the route says which note
   * counts.
   */
  const named = (id: string, context: string): string => (context && isOfNote(id) ? `${id}@${context}` : id);
  /** In which way notes count for what moves a node: a node of notes passes on its own, one for all has the route's. */
  const contextOf = (target: string, context: string, route: Route): string => {
    if (context) return context;
    const parsed = parseTarget(target);
    if (!parsed || (parsed.kind === 'layer' && parsed.parameter.reach === 'note')) return '';
    const ofNote =
      parsed.kind === 'blend'
        ? isOfNote(target)
        : isMoverKind(parsed.kind)
          ? moverOf.get(`${parsed.kind}.${(parsed as { number: number }).number}`)?.reach === 'note'
          : false;
    return ofNote ? '' : route.counts;
  };
  const sourcesOf = (target: string, context: string): string[] =>
    (routesByTarget.get(target) ?? []).flatMap((route) => {
      const inner = contextOf(target, context, route);
      return [named(sourceKey(route.source), inner), ...(route.scaledBy ? [named(route.scaledBy, inner)] : [])];
    });
  const padTargets = (number: number): string[] => ['x', 'y', ...PAD_PARAMETERS].map((id) => `xy.${number}.${id}`);
  const moversOf = (node: string): string[] => {
    const [id, context] = baseOf(node);
    const formula = formulas.get(id);
    if (formula)
      return namesOfFormula(formula)
        .filter((name) => parseSource(name))
        .map((name) => named(name, context));
    const source = parseSource(id)!;
    if (isMoverKind(source.kind)) {
      const mover = moverOf.get(id);
      if (!mover) return [];
      const targets = [...routesByTarget.keys()].filter((target) => target.startsWith(`${id}.`));
      const taken =
        mover.kind === 'hold' && mover.follows !== 'random' && parseSource(mover.follows)
          ? [named(mover.follows, context || (mover.reach === 'patch' ? 'last' : ''))]
          : [];
      return [...targets.flatMap((target) => sourcesOf(target, context)), ...taken];
    }
    if (source.kind === 'xyAnchor') return [`xy.${source.index}.x`, `xy.${source.index}.y`];
    // The dot's two places move together: whatever moves one of them comes before both.
    if (source.kind === 'xyX' || source.kind === 'xyY')
      return padTargets(source.index)
        .filter((target) => target !== (source.kind === 'xyX' ? `xy.${source.index}.y` : `xy.${source.index}.x`))
        .flatMap((target) => sourcesOf(target, ''));
    return sourcesOf(id, context);
  };

  const ids = new Set<string>();
  for (const layer of patch.layers) for (const window of layer.windows) ids.add(window.source);
  for (const sound of sounds) for (const zone of sound.zones) for (const window of zone.windows) ids.add(window.source);
  for (const route of routes) {
    const context = contextOf(route.target, '', route);
    ids.add(named(sourceKey(route.source), context));
    if (route.scaledBy) ids.add(named(route.scaledBy, context));
    const parsed = parseTarget(route.target);
    if (parsed?.kind === 'macro' || parsed?.kind === 'blend') ids.add(route.target);
  }
  // Movers and pads are seen and heard of even where they move nothing yet.
  for (const id of moverOf.keys()) ids.add(id);
  for (const { number } of patch.xyPads) for (const part of ['x', 'y']) ids.add(`xy.${number}.${part}`);
  const order = topologicalOrder([...ids], moversOf);
  const slotOf = new Map(order.map((id, i) => [id, i]));
  const depends = order.map((node) => moversOf(node).map((id) => slotOf.get(id)!));

  const routesTo = (target: string, context = ''): CompiledRoute[] =>
    (routesByTarget.get(target) ?? []).map((route) => {
      const inner = contextOf(target, context, route);
      const source = slotOf.get(named(sourceKey(route.source), inner))!;
      // Nobody knows of a formula how far it goes to either side.
      const twoSided = typeof route.source !== 'string' || parseSource(route.source)!.low < 0;
      return {
        source,
        depth: route.depth,
        curve: route.curve as CompiledRoute['curve'],
        inverted: route.polarity === 'inverted',
        scaledBy: route.scaledBy ? slotOf.get(named(route.scaledBy, inner))! : -1,
        bound: route.bound,
        low: twoSided ? -Math.abs(route.depth) : Math.min(0, route.depth),
        high: twoSided ? Math.abs(route.depth) : Math.max(0, route.depth),
      };
    });

  const targetedLayers = new Map<string, Set<string>>();
  for (const target of routesByTarget.keys()) {
    const [kind, id, parameter] = target.split('.');
    if (kind === 'layer') targetedLayers.set(id, (targetedLayers.get(id) ?? new Set()).add(parameter));
  }
  const routesOfLayer = (layerId: string): ((parameter: string) => CompiledRoute[]) => {
    const targeted = targetedLayers.get(layerId);
    return (parameter) => (targeted?.has(parameter) ? routesTo(`layer.${layerId}.${parameter}`) : []);
  };

  const slots: SourceSlot[] = order.map((node): SourceSlot => {
    const [id, context] = baseOf(node);
    const ofNote = !context && isOfNote(id);
    const counts = context ? NOTES_COUNT.indexOf(context as (typeof NOTES_COUNT)[number]) : -1;
    const formula = formulas.get(id);
    if (formula) {
      const steps = formula.map((step): FormulaStep =>
        step.op !== 'name'
          ? step
          : parseSource(step.name)
            ? { op: 'name', name: named(step.name, context) }
            : { op: 'number', value: step.name === 'keyLow' ? keyLow : keyHigh },
      );
      return {
        id: node,
        kind: 'formula',
        index: 0,
        part: 0,
        low: 0,
        high: 1,
        base: 0,
        routes: [],
        formula: steps,
        ofNote,
        counts,
        moving: false,
        place: -1,
      };
    }
    const { kind, index, part, low, high, rest } = parseSource(id)!;
    const share = (kind === 'macro' ? patch.macros : kind === 'blend' ? patch.blends : []).find(
      (entry) => entry.number === index,
    );
    const place = isMoverKind(kind)
      ? patch.movers.findIndex((mover) => mover.kind === kind && mover.number === index)
      : kind.startsWith('xy')
        ? patch.xyPads.findIndex((pad) => pad.number === index)
        : -1;
    return {
      id: node,
      kind,
      index,
      part,
      low,
      high,
      base: share?.value ?? rest,
      routes: kind === 'macro' || kind === 'blend' ? routesTo(id, context) : [],
      formula: null,
      ofNote,
      counts,
      moving: false,
      place,
    };
  });
  slots.forEach((slot, i) => {
    const own = isMoverKind(slot.kind)
      ? patch.movers[slot.place]?.on === true
      : slot.place >= 0 && patch.xyPads[slot.place].motion !== 'hand';
    slot.moving = own || depends[i].some((other) => slots[other].moving);
  });
  const reachedBy = (from: Iterable<number>): number[] => {
    const found = new Set<number>();
    const visit = (slot: number) => {
      if (found.has(slot)) return;
      found.add(slot);
      depends[slot].forEach(visit);
    };
    for (const slot of from) visit(slot);
    return [...found].sort((a, b) => a - b);
  };
  return { slots, slotOf, routesTo, routesOfLayer, reachedBy };
}
